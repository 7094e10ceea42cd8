import { afterEach, describe, expect, it } from 'vitest';
import { remembered } from './JobFrame';

const script = (src: string) => {
    document.head.innerHTML = '';
    const s = document.createElement('script');
    s.type = 'module';
    s.setAttribute('src', src);
    document.head.append(s);
    return s.src;
};
afterEach(() => {
    localStorage.clear();
    document.head.innerHTML = '';
});

describe('a job as last seen on this bench', () => {
    it('is there for the screens that saw it', () => {
        localStorage.setItem('heartwood.job.7', JSON.stringify({ by: script('/build/app-1.js'), job: { id: 7 } }));
        expect(remembered(7)).toEqual({ id: 7 });
        expect(remembered(8)).toBeNull();
    });
    it('is fetched anew after an upgrade, and where it was kept in another way', () => {
        localStorage.setItem('heartwood.job.7', JSON.stringify({ by: script('/build/app-1.js'), job: { id: 7 } }));
        script('/build/app-2.js');
        expect(remembered(7)).toBeNull();
        localStorage.setItem('heartwood.job.7', JSON.stringify({ id: 7 }));
        expect(remembered(7)).toBeNull();
        localStorage.setItem('heartwood.job.7', '{');
        expect(remembered(7)).toBeNull();
    });
});
