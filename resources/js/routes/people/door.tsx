import type { ReactNode } from 'react';

/** The door: what is seen before anybody is signed in. */
export function Door({ children }: { children: ReactNode }) {
    return (
        <main className="min-h-screen grid md:grid-cols-[1.1fr_1fr]">
            <div aria-hidden="true" className="hidden md:block relative overflow-hidden bg-[#e6cf9f]">
                <svg viewBox="0 0 600 800" preserveAspectRatio="xMidYMid slice" className="absolute inset-0 w-full h-full">
                    {Array.from({ length: 26 }, (_, i) => (
                        <ellipse
                            key={i}
                            cx={250 + Math.sin(i) * 3}
                            cy={430 + Math.cos(i * 1.7) * 4}
                            rx={16 + i * 21 + (i % 4) * 3}
                            ry={18 + i * 22}
                            fill="none"
                            stroke={i % 5 === 0 ? '#8a5a2b' : '#b88a51'}
                            strokeWidth={i % 5 === 0 ? 4 : 2}
                            opacity={0.75}
                        />
                    ))}
                    <circle cx="250" cy="430" r="9" fill="#68401f" />
                </svg>
            </div>
            <div className="grid place-items-center p-8">{children}</div>
        </main>
    );
}

/** The secret that came behind the # of a link: it never leaves the browser as part of an address. */
export const secretOfLink = () => decodeURIComponent(location.hash.replace(/^#/, ''));
