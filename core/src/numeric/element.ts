/**
 * The element at a place that is known to be there, since the caller keeps the index within bounds. The one file where
 * the compiler is told so. The engine learns one kind of list for each function: a loop that is run a million times asks
 * for its own kind, or takes half as long again. The year's one loop asks the list itself: it is too long to take more in.
 */
export const elementAt = <T>(list: ArrayLike<T>, index: number): T => list[index] as T;
/** As `elementAt`, of doubles. */
export const doubleAt = (list: Float64Array, index: number): number => list[index] as number;
/** As `elementAt`, of bytes. */
export const byteAt = (list: Uint8Array, index: number): number => list[index] as number;
/** As `elementAt`, of words of two bytes. */
export const wordAt = (list: Uint16Array, index: number): number => list[index] as number;
