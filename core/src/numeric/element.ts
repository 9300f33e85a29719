/**
 * The element at a place that is known to be there, since the caller keeps the index within bounds. The one place where
 * the compiler is told so.
 */
export const elementAt = <T>(list: ArrayLike<T>, index: number): T => list[index] as T;
