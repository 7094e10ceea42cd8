import { clsx } from 'clsx';
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './basics';

/** A sheet laid over the screen for one question. */
export function Sheet({
    title,
    onClose,
    children,
    wide = false,
}: {
    title: string;
    onClose: () => void;
    children: ReactNode;
    wide?: boolean;
}) {
    return (
        <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
            <Dialog.Portal>
                <Dialog.Overlay className="no-print fixed inset-0 bg-black/45 z-30" />
                <Dialog.Content
                    aria-describedby={undefined}
                    onOpenAutoFocus={(e) => {
                        // Hands are on the keys: the first question, not the way out.
                        const first = (e.currentTarget as HTMLElement).querySelector<HTMLElement>(
                            'input:not([type=file]), select, textarea',
                        );
                        if (!first) return;
                        e.preventDefault();
                        first.focus();
                    }}
                    className={clsx(
                        'fixed z-40 left-1/2 top-[8vh] -translate-x-1/2 w-[94vw]',
                        wide ? 'max-w-3xl' : 'max-w-xl',
                        'max-h-[84vh] overflow-auto sheet p-6 grid gap-4',
                    )}
                >
                    <div className="flex items-start justify-between gap-4">
                        <Dialog.Title asChild>
                            <h2>{title}</h2>
                        </Dialog.Title>
                        <Dialog.Close asChild>
                            <Button look="quiet">Close</Button>
                        </Dialog.Close>
                    </div>
                    {children}
                </Dialog.Content>
            </Dialog.Portal>
        </Dialog.Root>
    );
}
