/** What the thread for photos of plates needs of the core: a module of its own, so that the thread does not load the engine. */
export { evenLight, tiltOf, TILT_STEP } from './plate/picture';
export { plateIn, squared, type Corners, type Grey } from './plate/square';
