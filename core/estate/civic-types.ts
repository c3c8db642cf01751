/**
 * A civic address (RFC 5139, section 3.2; the elements of RFC 4776 by their names there), in the order in which a
 * location lists them.
 */
export const CIVIC_ELEMENTS = [
  'country',
  'A1',
  'A2',
  'A3',
  'A4',
  'A5',
  'A6',
  'PRM',
  'PRD',
  'RD',
  'STS',
  'POD',
  'POM',
  'RDSEC',
  'RDBR',
  'RDSUBBR',
  'HNO',
  'HNS',
  'LMK',
  'LOC',
  'FLR',
  'NAM',
  'PC',
  'BLD',
  'UNIT',
  'ROOM',
  'SEAT',
  'PLC',
  'PCN',
  'POBOX',
  'ADDCODE',
] as const;
export type CivicElement = (typeof CIVIC_ELEMENTS)[number];
export type Civic = Readonly<Partial<Record<CivicElement, string>>>;

/** Where a phone that is nowhere in particular is, as somebody said. */
export interface SaidPlace {
  readonly civic: Civic;
  /** "YYYY-MM-DD" */
  readonly saidOn: string;
  readonly by: string;
  /** A mark of the outside address that it was registered from then. */
  readonly from?: string;
}
