/** What was made on this device and not yet taken by the server. */
export { enqueue, enqueueRequest, enqueueSite, type NewChange } from './add';
export { drain, openOutbox, setOwner, type Taken } from './drain';
export { keyOfEntry, type ChangeEntry, type Entry, type RequestEntry, type SiteEntry } from './entries';
export { dependsOn, giveUp, sendAgain, sendMended, unsentText } from './mend';
export { isHeld, rowsOf, withPending } from './pending';
export { useMine, useOutbox } from './store';
export { entryTitle, mendable, mendedValue } from './entry-words';
export { waitingText } from './words';
