import { type ReactNode } from 'react';
import glossary from '@contract/glossary.json';
import { Aside } from './basics';

/** A word of the bench that says what it means when it is touched. */
export function Word({ of, children }: { of: keyof typeof glossary; children?: ReactNode }) {
    const entry = glossary[of];
    return (
        <Aside sign={children ?? entry.word}>
            <b className="block first-letter:uppercase">{entry.word}</b>
            {entry.means} <span className="block text-muted text-sm pt-1">Handbook: {entry.section}</span>
        </Aside>
    );
}
