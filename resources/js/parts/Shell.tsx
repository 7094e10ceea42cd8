import { slots } from '@/lib/slots';
import { writes } from '@/lib/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { toast, Toaster } from 'sonner';
import { actsAs, api, ApiError, askForProof, unwrap } from '@/api/client';
import { BenchProvider, useMay, usePerson } from '@/lib/bench';
import { initials } from '@/lib/format';
import { useTour } from '@/lib/tour';
import { Button, Waiting } from './basics';
import { Prove } from './Prove';
import { Safekeeping } from './Safekeeping';

const Tour = lazy(() => import('./Tour'));
const Palette = lazy(() => import('./Palette'));
const Keys = lazy(() => import('./Keys'));
const HandOver = lazy(() => import('./HandOver'));

const LAST_PERSON = 'heartwood.person';

/** Everything behind the sign-in. With the server away, the person who was last here can go on taking readings. */
export function Shell() {
    const { pathname, search } = useLocation();
    const session = useQuery({ queryKey: slots.session(), queryFn: () => unwrap(api.GET('/api/session')), staleTime: 60_000, retry: 1 });
    const queries = useQueryClient();
    useEffect(() => {
        if (session.data) localStorage.setItem(LAST_PERSON, JSON.stringify(session.data));
    }, [session.data]);
    useEffect(() => {
        // Handed over in another window: this one looks again, and shows who is there now.
        const again = () => void queries.invalidateQueries({ queryKey: slots.session() });
        const other = () => {
            actsAs(null);
            queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
            again();
            toast.error('Somebody else is at the bench now: this screen shows their bench. What was typed is kept under its own name.');
        };
        const stored = (e: StorageEvent) => e.key === LAST_PERSON && again();
        window.addEventListener('heartwood-other-person', other);
        window.addEventListener('storage', stored);
        return () => {
            window.removeEventListener('heartwood-other-person', other);
            window.removeEventListener('storage', stored);
        };
    }, [queries]);
    const signedOut = session.error instanceof ApiError && session.error.status === 401;
    if (signedOut) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
    const person = session.data ?? (session.isError ? remembered() : null);
    if (!person) return session.isError ? <Away again={() => void session.refetch()} /> : <Waiting what="Opening the bench ..." />;
    actsAs(person.id);
    if (person.second_factor_first && pathname !== '/me') return <Navigate to="/me" replace />;
    return (
        <BenchProvider key={person.id} person={person}>
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

const ROOMS: [string, string][] = [
    ['/customers', 'Customers'],
    ['/packs', 'Packs'],
    ['/cells', 'Cells'],
    ['/instruments', 'Instruments'],
    ['/training', 'Training'],
    ['/settings', 'Settings'],
];

function Frame() {
    const person = usePerson();
    const navigate = useNavigate();
    const queries = useQueryClient();
    const tour = useTour(person.id);
    const [palette, setPalette] = useState(false);
    const [keys, setKeys] = useState(false);
    const [handing, setHanding] = useState(false);
    const [proving, setProving] = useState<((proved: boolean) => void) | null>(null);
    const owner = useMay('people');
    useEffect(() => {
        askForProof(() => new Promise((done) => setProving(() => done)));
        return () => askForProof(null);
    }, []);
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
            actsAs(null);
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
            } else if (!writes(e) && !e.ctrlKey && !e.metaKey && !e.altKey) {
                if (!['?', '/', 'b', 'n'].includes(e.key)) return;
                e.preventDefault();
                if (e.key === '?') setKeys(true);
                else if (e.key === '/') setPalette(true);
                else void navigate(e.key === 'b' ? '/' : '/intake');
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
            <header className="no-print flex items-center gap-x-2 flex-wrap px-4 max-md:px-2 border-b-2 border-bark bg-panel">
                <Link to="/" className="flex items-center gap-2 no-underline font-bold h-[44px]">
                    <img src="/rings.svg" alt="" width={28} height={28} />
                    <span className="leading-tight max-md:sr-only">
                        Heartwood
                        <span className="eyebrow hidden md:block font-normal">{person.workshop.name}</span>
                    </span>
                </Link>
                <nav aria-label="Rooms" className="flex max-md:order-last max-md:w-full max-md:overflow-x-auto">
                    {ROOMS.map(([to, name]) => (
                        <Room key={to} to={to} name={name} />
                    ))}
                    {owner && <Room to="/people" name="People" />}
                </nav>
                <span className="grow" />
                <Safekeeping />
                <Button look="quiet" className="!px-2 max-[1400px]:!px-1.5" onClick={() => setPalette(true)}>
                    Find <kbd className="text-sm text-muted max-[1400px]:hidden">/</kbd>
                </Button>
                <Button look="quiet" className="!px-2 max-[1400px]:!px-1.5 max-xl:hidden" onClick={() => setDim(!dim)} aria-pressed={dim}>
                    Dim
                </Button>
                <Button look="quiet" className="!px-2 max-[1400px]:!px-1.5 max-xl:hidden" onClick={() => setKeys(true)}>
                    Keys <kbd className="text-sm text-muted max-[1400px]:hidden">?</kbd>
                </Button>
                <button
                    type="button"
                    onClick={() => setHanding(true)}
                    aria-label={`At the bench: ${person.name}, ${person.role}. Hand over`}
                    className="flex items-center gap-2 h-[44px] rounded px-2 text-left leading-none text-[0.95rem] hover:bg-knot"
                >
                    <span
                        aria-hidden="true"
                        className="grid place-items-center w-9 h-9 rounded-full bg-bark text-on-bark font-bold text-sm"
                    >
                        {initials(person.name)}
                    </span>
                    <span className="max-md:hidden">
                        <b>{person.name}</b>
                        <span className="block text-muted text-sm">{person.role}</span>
                    </span>
                </button>
                <Button
                    look="quiet"
                    className="!px-2 max-[1400px]:!px-1.5 max-md:hidden"
                    onClick={() => leave.mutate()}
                    disabled={leave.isPending}
                >
                    Sign out
                </Button>
            </header>
            <main id="main">
                <Outlet />
            </main>
            <Suspense>{tour.step !== null && <Tour />}</Suspense>
            <Suspense>
                {palette && (
                    <Palette
                        open
                        onClose={() => setPalette(false)}
                        onDim={() => setDim(!dim)}
                        onKeys={() => setKeys(true)}
                        onLeave={() => leave.mutate()}
                    />
                )}
                {keys && <Keys onClose={() => setKeys(false)} />}
                {handing && <HandOver onClose={() => setHanding(false)} />}
                {proving && (
                    <Prove
                        onDone={(proved) => {
                            setProving(null);
                            proving(proved);
                        }}
                    />
                )}
            </Suspense>
            <Toaster
                position="bottom-center"
                toastOptions={{
                    style: {
                        background: 'var(--panel)',
                        color: 'var(--ink)',
                        border: '2px solid var(--bark)',
                        fontSize: '1rem',
                        fontFamily: 'inherit',
                    },
                }}
            />
        </>
    );
}

function Room({ to, name }: { to: string; name: string }) {
    const shape = 'inline-flex items-center min-h-[44px] px-2 max-[1400px]:px-1.5 no-underline rounded hover:bg-knot';
    return (
        <NavLink to={to} className={({ isActive }) => `${shape} ${isActive ? 'font-bold border-b-[3px] border-bark' : ''}`}>
            {name}
        </NavLink>
    );
}
