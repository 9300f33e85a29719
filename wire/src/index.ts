/** What goes between client and server: each shape once, with the schema by which the server takes it. */
export * from './alerts';
export * from './changes';
export * from './demo';
export * from './firm';
export * from './fleet';
export * from './ids';
export * from './links';
export * from './live';
export * from './people';
export * from './problems';
export * from './session';
export * from './sites';
export * from './trips';
export * from './units';
