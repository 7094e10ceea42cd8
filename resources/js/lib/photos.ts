import { useEffect, useSyncExternalStore } from 'react';
import type { components } from '@/api/schema';
import { overTheWire, PhotoQueue } from './photoQueue';

export type Photo = components['schemas']['Photo'];
export const ABOUT: Record<Photo['about'], string> = {
    '': 'not said',
    side: 'a side',
    label: 'the label',
    connector: 'the connector',
    damage: 'damage',
    seal: 'the seal',
    inside: 'inside',
    step: 'a step',
    display: 'its display',
};
export const photoUrl = (p: Pick<Photo, 'id'>, size: 'whole' | 'small') => `/api/photos/${p.id}/${size}`;

let person: number | null = null;

/** Classes of a mark that lies over a picture. */
export const MARK =
    'absolute -translate-x-1/2 -translate-y-1/2 grid place-items-center rounded-full border-2 border-panel ' +
    'bg-ember text-panel font-bold';

/** The one queue of this browser. */
export const photoQueue = new PhotoQueue(overTheWire, (p) => p.to.startsWith('phone:') || (person !== null && p.person === person));
let begun = false;

/** What is on its way from here, and whose turn it is. */
export function usePhotoQueue(who: number | null) {
    useEffect(() => {
        person = who ?? person;
        if (begun) return photoQueue.wake();
        begun = true;
        window.addEventListener('online', photoQueue.wake);
        void photoQueue.load();
    }, [who]);
    return useSyncExternalStore(photoQueue.subscribe, photoQueue.snapshot);
}
