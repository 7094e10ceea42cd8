import { ApiError } from '@/api/client';

/** Leave as the server gave it: a word that is sent along, good for so many seconds. */
export interface Given {
    watch: string;
    lasts_s: number;
}

/** Seconds before its end at which leave is asked for anew. */
const AHEAD_S = 5;

/**
 * Leave to ask the same question again and again. It is had by a question that says who asks; until it is nearly over it alone
 * is sent, which costs the server a twentieth. Once it is refused it is dropped, and the next question says again who asks.
 */
export class Leave {
    private given: Given | null = null;
    private until = 0;

    constructor(private readonly clock: () => number = () => performance.now()) {}

    /** @param asked when it was asked for, by the clock: its end counts from there */
    take(given: Given, asked: number) {
        this.given = given;
        this.until = asked + 1000 * (given.lasts_s - AHEAD_S);
    }

    drop() {
        this.given = null;
    }

    /** The word to send; null where leave is to be asked for. */
    get word(): string | null {
        return this.given !== null && this.clock() < this.until ? this.given.watch : null;
    }

    /** Runs what is asked by leave; where that is over or taken back, it is dropped and null is the answer. */
    async by<T>(ask: (word: string) => Promise<T>): Promise<T | null> {
        const word = this.word;
        if (word === null) return null;
        try {
            return await ask(word);
        } catch (e) {
            if (!(e instanceof ApiError)) throw e;
            // Refused for another reason: the next one hears from the server itself why.
            if (e.status >= 400 && e.status < 500) this.drop();
            if (e.status === 410) return null;
            throw e;
        }
    }

    /** Obtains it where there is none. */
    async have(obtain: () => Promise<Given>): Promise<void> {
        if (this.word !== null) return;
        const asked = this.clock();
        this.take(await obtain(), asked);
    }
}
