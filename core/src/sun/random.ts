/** Standard normals from a seed: the same seed, the same numbers, on any machine. */
export function normals(seed: number): () => number {
  const uniform = uniforms(seed);
  let spare = Number.NaN;
  // Marsaglia's polar method.
  return () => {
    if (!Number.isNaN(spare)) {
      const kept = spare;
      spare = Number.NaN;
      return kept;
    }
    for (;;) {
      const [u, v] = [2 * uniform() - 1, 2 * uniform() - 1];
      const s = u * u + v * v;
      if (s === 0 || s >= 1) continue;
      const scale = Math.sqrt((-2 * Math.log(s)) / s);
      spare = v * scale;
      return u * scale;
    }
  };
}

/** Uniforms from 0 to 1: the generator mulberry32, whose state is one 32-bit number. */
export function uniforms(seed: number): () => number {
  let state = (Math.imul(seed | 0, 0x9e3779b1) ^ 0x85ebca6b) >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}
