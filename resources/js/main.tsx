import '@fontsource/atkinson-hyperlegible-next/latin-400.css';
import '@fontsource/atkinson-hyperlegible-next/latin-700.css';
import '@fontsource/atkinson-hyperlegible-mono/latin-500.css';
import 'sonner/dist/styles.css';
import '../css/app.css';
import { setNonce } from 'get-nonce';
import { MutationCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider, type LazyRouteFunction, type RouteObject } from 'react-router';
import { ApiError, type Job } from './api/client';
import { slots } from './lib/slots';
import { Shell } from './parts/Shell';
import { Fault } from './parts/Fault';

// Dialogs hold the page still by a style of their own: it carries the word that the page came with.
const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content;
if (nonce) setNonce(nonce);

const queries = new QueryClient({
    mutationCache: new MutationCache({
        // Whatever was written may be the evidence that a step of the work waits for.
        onSuccess: () =>
            void queries.invalidateQueries({
                queryKey: slots.job(),
                predicate: (q) => (q.state.data as Job | undefined)?.stage === 'work',
            }),
    }),
    defaultOptions: {
        queries: {
            staleTime: 5_000,
            networkMode: 'always',
            retry: (n, error) => n < 2 && !(error instanceof ApiError && error.status < 500),
        },
        mutations: { networkMode: 'always' },
    },
});

/** A screen that breaks says so in its own place: what is around it stays, and so do the others. */
const room = (path: string, lazy: LazyRouteFunction<RouteObject>): RouteObject => ({ path, lazy, errorElement: <Fault /> });

const router = createBrowserRouter([
    room('/sign-in', () => import('./routes/people/SignIn')),
    room('/start', () => import('./routes/people/Start')),
    room('/join', () => import('./routes/people/Join')),
    room('/phone', () => import('./routes/Phone')),
    room('/pack', () => import('./routes/owner/Owner')),
    {
        path: '/',
        element: <Shell />,
        errorElement: (
            <main>
                <Fault />
            </main>
        ),
        children: [
            { index: true, lazy: () => import('./routes/Bench'), errorElement: <Fault /> },
            room('intake', () => import('./routes/intake/NewIntake')),
            room('cells', () => import('./routes/cells/Drawer')),
            room('instruments', () => import('./routes/Instruments')),
            room('packs', () => import('./routes/packs/Packs')),
            room('packs/:pack', () => import('./routes/packs/Passport')),
            room('messages', () => import('./routes/packs/Messages')),
            room('batches', () => import('./routes/batches/Batches')),
            room('batches/new', () => import('./routes/batches/NewBatch')),
            room('batches/:batch', () => import('./routes/batches/Lane')),
            room('customers', () => import('./routes/customers/Customers')),
            room('customers/:customer', () => import('./routes/customers/Customer')),
            room('customers/:customer/fleet', () => import('./routes/customers/Fleet')),
            room('customers/:customer/wall', () => import('./routes/customers/ReadWall')),
            room('settings', () => import('./routes/settings/Settings')),
            room('people', () => import('./routes/people/People')),
            {
                path: 'training',
                errorElement: <Fault />,
                lazy: () => import('./routes/training/Frame'),
                children: [
                    { index: true, lazy: () => import('./routes/training/Training'), errorElement: <Fault /> },
                    room('paper', () => import('./routes/training/Paper')),
                    {
                        path: ':round',
                        errorElement: <Fault />,
                        lazy: () => import('./routes/training/Round'),
                        children: [
                            room('intake', () => import('./routes/training/Intake')),
                            room('probe', () => import('./routes/training/Probe')),
                            room('verdict', () => import('./routes/training/Verdict')),
                            room('plan', () => import('./routes/training/Plan')),
                            room('carry-out', () => import('./routes/training/Work')),
                            room('debrief', () => import('./routes/training/Debrief')),
                        ],
                    },
                ],
            },
            room('me', () => import('./routes/people/Me')),
            room('import', () => import('./routes/Import')),
            {
                path: 'jobs/:job',
                errorElement: <Fault />,
                lazy: () => import('./routes/job/JobFrame'),
                children: [
                    room('intake', () => import('./routes/intake/EditIntake')),
                    room('probe', () => import('./routes/probe/Probe')),
                    room('verdict', () => import('./routes/Verdict')),
                    room('plan', () => import('./routes/Plan')),
                    room('work', () => import('./routes/Work')),
                    room('teardown', () => import('./routes/teardown/Teardown')),
                    room('supply', () => import('./routes/supply/Supply')),
                    room('build', () => import('./routes/build/Build')),
                    room('guided', () => import('./routes/guided/Guided')),
                    room('guided/:run', () => import('./routes/guided/GuidedRun')),
                    room('runs/:run', () => import('./routes/supply/LiveRun')),
                    room('proof', () => import('./routes/Proof')),
                    room('report', () => import('./routes/Report')),
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
