import { useEffect } from 'react';
import { Outlet } from 'react-router';

/** The frame of all that is only an exercise: its own colour round the page, the word above it and in the window's title, on paper too. */
export function Component() {
    useEffect(() => {
        const before = document.title;
        document.title = `Training · ${before}`;
        return () => {
            document.title = before;
        };
    }, []);
    return (
        <div className="border-drill border-x-[8px] border-b-[8px] min-h-[calc(100vh-60px)]">
            <p className="bg-drill text-on-drill px-4 min-h-[30px] flex items-center gap-3" role="note">
                <b className="tracking-[0.18em]">TRAINING</b>
                <span className="truncate">
                    A simulated pack on a simulated bench. Nothing of it reaches jobs, figures of the shop or stock.
                </span>
            </p>
            <Outlet />
        </div>
    );
}
