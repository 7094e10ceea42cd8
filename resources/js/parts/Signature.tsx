import { useEffect, useRef } from 'react';
import SignaturePad from 'signature_pad';
import { Button } from './basics';

export type Strokes = number[][][];

/** A field to sign in, by finger, pen or mouse; what is drawn are strokes in shares of the field, not a picture. */
export function SignatureField({ onChange }: { onChange: (strokes: Strokes) => void }) {
    const canvas = useRef<HTMLCanvasElement>(null);
    const pad = useRef<SignaturePad | null>(null);
    const said = useRef(onChange);
    said.current = onChange;
    useEffect(() => {
        const field = canvas.current!;
        const box = field.getBoundingClientRect();
        const dense = Math.max(1, window.devicePixelRatio);
        field.width = box.width * dense;
        field.height = box.height * dense;
        field.getContext('2d')?.scale(dense, dense);
        const on = new SignaturePad(field, { penColor: getComputedStyle(field).color });
        pad.current = on;
        const share = (x: number) => Math.round(1e4 * Math.min(1, Math.max(0, x))) / 1e4;
        on.addEventListener('endStroke', () =>
            said.current(on.toData().map((g) => g.points.map((p) => [share(p.x / box.width), share(p.y / box.height)]))),
        );
        return () => on.off();
    }, []);
    return (
        <div className="grid gap-1">
            <canvas
                ref={canvas}
                aria-label="Signature"
                role="img"
                className="w-full h-32 border-2 border-line rounded bg-panel text-ink touch-none"
            />
            <div>
                <Button
                    look="quiet"
                    onClick={() => {
                        pad.current?.clear();
                        onChange([]);
                    }}
                >
                    Sign anew
                </Button>
            </div>
        </div>
    );
}

/** A signature as it was drawn. */
export function SignatureDrawing({ strokes }: { strokes: Strokes }) {
    return (
        <svg viewBox="0 0 100 30" preserveAspectRatio="none" role="img" aria-label="Signature" className="w-64 h-20 border-b border-line">
            {strokes.map((s, i) => (
                <polyline
                    key={i}
                    points={s.map(([x, y]) => `${100 * x!},${30 * y!}`).join(' ')}
                    fill="none"
                    stroke="currentColor"
                    strokeWidth="1.6"
                    vectorEffect="non-scaling-stroke"
                />
            ))}
        </svg>
    );
}
