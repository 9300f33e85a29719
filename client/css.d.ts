declare module '*.css';

/** A font as the bundler hands it over: the number or address under which it is loaded. */
declare module '*.ttf' {
  const source: number;
  export default source;
}
