import '@fontsource/atkinson-hyperlegible-next/latin-400.css';
import '@fontsource/atkinson-hyperlegible-next/latin-700.css';
import '@fontsource/atkinson-hyperlegible-mono/latin-500.css';
import 'sonner/dist/styles.css';
import '../css/app.css';
import { setNonce } from 'get-nonce';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { ApiError } from './api/client';
import { Shell } from './parts/Shell';
import { Fault } from './parts/Fault';

// Dialogs hold the page still by a style of their own: it carries the word that the page came with.
const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content;
if (nonce) setNonce(nonce);

const queries = new QueryClient({
    defaultOptions: {
        queries: {
            staleTime: 5_000,
            networkMode: 'always',
            retry: (n, error) => n < 2 && !(error instanceof ApiError && error.status < 500),
        },
        mutations: { networkMode: 'always' },
    },
});

const router = createBrowserRouter([
    { path: '/sign-in', lazy: () => import('./routes/people/SignIn') },
    { path: '/start', lazy: () => import('./routes/people/Start') },
    { path: '/join', lazy: () => import('./routes/people/Join') },
    {
        path: '/',
        element: <Shell />,
        errorElement: (
            <main>
                <Fault />
            </main>
        ),
        children: [
            { index: true, lazy: () => import('./routes/Bench') },
            { path: 'intake', lazy: () => import('./routes/intake/NewIntake') },
            { path: 'cells', lazy: () => import('./routes/cells/Drawer') },
            { path: 'instruments', lazy: () => import('./routes/Instruments') },
            { path: 'customers', lazy: () => import('./routes/customers/Customers') },
            { path: 'customers/:customer', lazy: () => import('./routes/customers/Customer') },
            { path: 'settings', lazy: () => import('./routes/settings/Settings') },
            { path: 'people', lazy: () => import('./routes/people/People') },
            { path: 'me', lazy: () => import('./routes/people/Me') },
            { path: 'import', lazy: () => import('./routes/Import') },
            {
                path: 'jobs/:job',
                lazy: () => import('./routes/job/JobFrame'),
                children: [
                    { path: 'intake', lazy: () => import('./routes/intake/EditIntake') },
                    { path: 'probe', lazy: () => import('./routes/probe/Probe') },
                    { path: 'verdict', lazy: () => import('./routes/Verdict') },
                    { path: 'plan', lazy: () => import('./routes/Plan') },
                    { path: 'work', lazy: () => import('./routes/Work') },
                    { path: 'supply', lazy: () => import('./routes/supply/Supply') },
                    { path: 'build', lazy: () => import('./routes/build/Build') },
                    { path: 'runs/:run', lazy: () => import('./routes/supply/LiveRun') },
                    { path: 'proof', lazy: () => import('./routes/Proof') },
                    { path: 'report', lazy: () => import('./routes/Report') },
                ],
            },
            { path: '*', element: <Fault /> },
        ],
    },
]);

createRoot(document.getElementById('root')!).render(
    <StrictMode>
        <QueryClientProvider client={queries}>
            <RouterProvider router={router} />
        </QueryClientProvider>
    </StrictMode>,
);
