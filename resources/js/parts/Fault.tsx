import { isRouteErrorResponse, useRouteError } from 'react-router';
import { Button, Go } from './basics';

export function Fault() {
    const error = useRouteError();
    const lost = error === undefined || (isRouteErrorResponse(error) && error.status === 404);
    return (
        <div className="mx-auto max-w-xl p-8 grid gap-4">
            <h1>{lost ? 'There is nothing at this address' : 'This screen broke'}</h1>
            <p>
                {lost
                    ? 'It may have been typed wrongly or the link is old.'
                    : 'What you typed is kept on this bench. Load the screen again; if it breaks again, go back to the bench.'}
            </p>
            <div className="flex gap-3">
                <Go to="/" look="main">
                    Back to the bench
                </Go>
                {!lost && <Button onClick={() => location.reload()}>Load again</Button>}
            </div>
        </div>
    );
}
