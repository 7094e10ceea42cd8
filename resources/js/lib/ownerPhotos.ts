import { overTheWire, PhotoQueue } from './photoQueue';

/** Photos of a pack's display on this phone: kept until the server has them, each beside the reading that it was taken with. */
export const ownerPhotos = new PhotoQueue(overTheWire, (p) => p.to.startsWith('owner:'), 'heartwood-owner-photos');
