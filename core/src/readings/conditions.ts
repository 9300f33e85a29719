/** Under what a reading is taken: entered once on site, or given to the command. */
export interface Conditions {
  /** On the plane of the array, W/m2. */
  irradiance_W_m2: number;
  /** By what it is known: a reference cell (or a module's own Isc), a meter held in the plane, or by looking at the sky. */
  irradianceBy: 'cell' | 'meter' | 'sky';
  /** Temperature of the cells; null: from the air, the light and the mounting. */
  cell_C: number | null;
  /** Air temperature (and bank). */
  ambient_C: number;
  /** State of charge of the bank, 0 to 1. */
  soc: number;
  /** Share of design current that flows while drops and sharing are read; of the bank's continuous discharge. */
  share: number;
  /** What runs just now on the DC side of the bank, A. */
  load_A: number;
  /** What really flows where it is read, A: of a bank all that it gives; absent: by the share. */
  current_A?: number;
  /** Error of the meter, percent of its reading. */
  meter_pct: number;
}

/** What the command takes where nothing is said. */
export const CONDITIONS: Readonly<Conditions> = {
  irradiance_W_m2: 800,
  irradianceBy: 'cell',
  cell_C: null,
  ambient_C: 20,
  soc: 0.8,
  share: 0.5,
  load_A: 0,
  meter_pct: 0.5,
};

/** Two sigma of the light by how it is known: reference cell, meter, sky (Practice, D). */
export const LIGHT_ERROR: Readonly<Record<Conditions['irradianceBy'], number>> = { cell: 0.05, meter: 0.08, sky: 0.2 };
/** Two sigma of the cells' temperature, K, and of the state of charge that somebody entered. */
export const CELL_ERROR_K = 4;
/** How far a state of charge may be off, as a share. */
export const SOC_ERROR = 0.05;
/** Less light than this tells nothing of an array; less current than this share of design nothing of a cable. */
export const LEAST_LIGHT_W_M2 = 300;
/** Below this share of the design current a drop tells nothing. */
export const LEAST_SHARE = 0.1;
