import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, Navigate, Outlet, useLocation, useNavigate } from 'react-router';
import { toast, Toaster } from 'sonner';
import { api, ApiError, unwrap } from '@/api/client';
import { BenchProvider, usePerson } from '@/lib/bench';
import { Button, Waiting } from './basics';
import { Safekeeping } from './Safekeeping';

const Palette = lazy(() => import('./Palette'));
const Keys = lazy(() => import('./Keys'));

const LAST_PERSON = 'heartwood.person';

/** Everything behind the sign-in. With the server away, the person who was last here can go on taking readings. */
export function Shell() {
    const { pathname, search } = useLocation();
    const session = useQuery({ queryKey: ['session'], queryFn: () => unwrap(api.GET('/api/session')), staleTime: 60_000, retry: 1 });
    useEffect(() => {
        if (session.data) localStorage.setItem(LAST_PERSON, JSON.stringify(session.data));
    }, [session.data]);
    const signedOut = session.error instanceof ApiError && session.error.status === 401;
    if (signedOut) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
    const person = session.data ?? (session.isError ? remembered() : null);
    if (!person) return session.isError ? <Away again={() => void session.refetch()} /> : <Waiting what="Opening the bench ..." />;
    return (
        <BenchProvider person={person}>
            <Frame />
        </BenchProvider>
    );
}

function remembered() {
    try {
        return JSON.parse(localStorage.getItem(LAST_PERSON) ?? 'null');
    } catch {
        return null;
    }
}

function Away({ again }: { again: () => void }) {
    return (
        <main className="mx-auto max-w-xl p-8 grid gap-4">
            <h1>The server cannot be reached</h1>
            <p>Check that it runs (./heartwood status) and that this bench is on its network.</p>
            <div>
                <Button look="main" onClick={again}>
                    Try again
                </Button>
            </div>
        </main>
    );
}

const typing = (target: EventTarget | null) =>
    target instanceof HTMLElement && (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

function Frame() {
    const person = usePerson();
    const navigate = useNavigate();
    const queries = useQueryClient();
    const [palette, setPalette] = useState(false);
    const [keys, setKeys] = useState(false);
    const [dim, setDim] = useState(() => localStorage.getItem('heartwood.light') === 'dim');
    useEffect(() => {
        document.documentElement.dataset['light'] = dim ? 'dim' : 'day';
        localStorage.setItem('heartwood.light', dim ? 'dim' : 'day');
    }, [dim]);
    // What is only on this bench stays here under its own name, and is sent when that person signs in again.
    const leave = useMutation({
        mutationFn: () => unwrap(api.DELETE('/api/session')),
        onSuccess: () => {
            localStorage.removeItem(LAST_PERSON);
            queries.clear();
            void navigate('/sign-in', { replace: true });
        },
        onError: () => toast.error('You are still signed in: the server did not answer. Try again when it is back.'),
    });
    useEffect(() => {
        const onKey = (e: KeyboardEvent) => {
            if (e.key.toLowerCase() === 'k' && (e.ctrlKey || e.metaKey)) {
                e.preventDefault();
                setPalette(true);
            } else if (!typing(e.target) && !e.ctrlKey && !e.metaKey && !e.altKey) {
                if (e.key === '?') setKeys(true);
                else if (e.key === '/') {
                    e.preventDefault();
                    setPalette(true);
                } else if (e.key === 'b') void navigate('/');
                else if (e.key === 'n') void navigate('/intake');
            }
        };
        window.addEventListener('keydown', onKey);
        return () => window.removeEventListener('keydown', onKey);
    }, [navigate]);
    return (
        <>
            <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:p-3 focus:bg-panel">
                To the content
            </a>
            <header className="no-print flex items-center gap-x-4 gap-y-1 flex-wrap px-5 py-2 border-b-2 border-bark bg-panel">
                <Link to="/" className="flex items-center gap-2 no-underline font-bold text-lg min-h-[44px]">
                    <img src="/rings.svg" alt="" width={30} height={30} />
                    Heartwood
                </Link>
                <span className="eyebrow hidden md:inline">{person.workshop.name}</span>
                <span className="grow" />
                <Safekeeping />
                <Button look="quiet" onClick={() => setPalette(true)}>
                    Find <kbd className="text-sm text-muted">/</kbd>
                </Button>
                <Button look="quiet" onClick={() => setDim(!dim)} aria-pressed={dim}>
                    Dim
                </Button>
                <Button look="quiet" onClick={() => setKeys(true)}>
                    Keys <kbd className="text-sm text-muted">?</kbd>
                </Button>
                <span className="text-[0.95rem] leading-tight">
                    {person.name}
                    <span className="block text-muted text-sm">{person.role}</span>
                </span>
                <Button look="quiet" onClick={() => leave.mutate()} disabled={leave.isPending}>
                    Sign out
                </Button>
            </header>
            <main id="main">
                <Outlet />
            </main>
            <Suspense>
                {palette && <Palette open onClose={() => setPalette(false)} onDim={() => setDim(!dim)} onKeys={() => setKeys(true)} />}
                {keys && <Keys onClose={() => setKeys(false)} />}
            </Suspense>
            <Toaster
                position="bottom-center"
                toastOptions={{
                    style: { background: 'var(--panel)', color: 'var(--ink)', border: '2px solid var(--bark)', fontSize: '1rem', fontFamily: 'inherit' },
                }}
            />
        </>
    );
}
