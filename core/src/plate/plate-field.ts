/** One figure or word that was read off a plate. */
export interface PlateField {
  field: string;
  value: number | string;
  /** The line it was read from. */
  text: string;
  /** Label, unit and range agree, and nothing contradicts it. */
  sure: boolean;
}
