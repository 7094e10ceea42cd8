import { Link } from 'react-router';

/** Where a role has not the right to something: the way to what speaks for it. */
export function LearnIt() {
    return (
        <Link to="/training" className="underline underline-offset-4">
            Rounds of the trainer speak for it.
        </Link>
    );
}
