/** Why nothing of a file was taken: each place of it with what is wrong there. */
export function Places({ of }: { of: [string, string][] }) {
    if (of.length === 0) return null;
    return (
        <div role="alert" className="border-l-4 border-ember pl-4 grid gap-1">
            <b>Nothing was imported. Mend these places:</b>
            <ul>
                {of.slice(0, SHOWN).map(([pointer, message]) => (
                    <li key={pointer}>
                        <code className="digits">{pointer || '(the whole)'}</code> {message}
                    </li>
                ))}
            </ul>
            {of.length > SHOWN && <p className="text-muted">and {of.length - SHOWN} more</p>}
        </div>
    );
}

const SHOWN = 20;
