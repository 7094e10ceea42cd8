import { type ClipboardEvent, type KeyboardEvent, memo, type RefObject, useState } from 'react';
import { type Pair, pastedNumbers } from '@/lib/order';
import { Button } from '@/parts/basics';
import { Target } from './Target';

/**
 * Where the probes go, and the number that the meter shows. What is being typed stays in here: a key draws nothing else of the
 * screen.
 */
export const Typed = memo(function Typed({
    target,
    at,
    of,
    field,
    take,
    takeBack,
    move,
    output,
    whole,
    listen,
}: {
    target: Pair | null;
    /** Readings taken so far, and how many there are to be. */
    at: number;
    of: number;
    field: RefObject<HTMLInputElement | null>;
    take: (numbers: string[]) => void;
    takeBack: () => void;
    move: (step: number) => void;
    output: () => void;
    whole: () => void;
    listen: () => void;
}) {
    const [typed, setTyped] = useState('');
    const taken = (numbers: string[]) => {
        setTyped('');
        take(numbers);
    };
    const onKey = (e: KeyboardEvent<HTMLInputElement>) => {
        if (e.key === 'Enter' || (e.key === ' ' && typed !== '')) {
            e.preventDefault();
            if (typed.trim() !== '' && target) taken([typed.trim()]);
        } else if (e.key === ' ') {
            e.preventDefault();
        } else if (e.key === 'Backspace' && typed === '') {
            e.preventDefault();
            takeBack();
        } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
            e.preventDefault();
            move(e.key === 'ArrowUp' ? -1 : 1);
        }
    };
    const onPaste = (e: ClipboardEvent) => {
        const numbers = pastedNumbers(e.clipboardData.getData('text'));
        if (numbers.length > 1) {
            e.preventDefault();
            taken(numbers);
        }
    };
    return (
        <div className="sheet p-5 grid gap-2 [contain:layout]">
            <Target target={target} at={at} of={of} />
            <label className="eyebrow" htmlFor="typed">
                Volts on the meter
            </label>
            <input
                id="typed"
                ref={field}
                autoFocus
                data-next-field
                autoComplete="off"
                inputMode="decimal"
                enterKeyHint="next"
                className="digits !text-5xl !py-3 !min-h-[84px]"
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
                onKeyDown={onKey}
                onPaste={onPaste}
                placeholder={target ? '' : 'choose a tap'}
            />
            <div className="flex flex-wrap gap-3">
                <Button
                    look={target ? 'main' : 'plain'}
                    className="max-md:w-full max-md:min-h-[60px]"
                    disabled={typed.trim() === '' || !target}
                    onClick={() => taken([typed.trim()])}
                >
                    Take it <kbd className="font-normal max-md:hidden">Enter</kbd>
                </Button>
                <Button disabled={at === 0} onClick={takeBack}>
                    Take the last back
                </Button>
                <Button look="quiet" onClick={output}>
                    Output P- to P+
                </Button>
                <Button look="quiet" onClick={whole}>
                    Whole string
                </Button>
                <Button onClick={listen}>Listen to a meter</Button>
            </div>
        </div>
    );
});
