/**
 * Emergency numbers, which are never a target of a plan: 112 and 911 everywhere (ITU-T E.161.1 names both), and the
 * national ones of countries that have others, by ISO 3166 code.
 */
const EVERYWHERE = ['112', '911'];
const NATIONAL: Readonly<Record<string, readonly string[]>> = {
  AR: ['100', '101', '107'],
  AT: ['122', '133', '144'],
  AU: ['000', '106'],
  BE: ['100', '101'],
  BR: ['190', '192', '193'],
  CH: ['117', '118', '144'],
  CL: ['131', '132', '133'],
  CN: ['110', '119', '120'],
  CZ: ['150', '155', '158'],
  DE: ['110'],
  FR: ['15', '17', '18'],
  GB: ['999'],
  HK: ['999'],
  IE: ['999'],
  IN: ['100', '101', '102', '108'],
  IT: ['113', '115', '118'],
  JP: ['110', '118', '119'],
  KR: ['119'],
  MY: ['999'],
  NO: ['110', '113'],
  NZ: ['111'],
  PL: ['997', '998', '999'],
  SG: ['995', '999'],
  ZA: ['10111', '10177'],
};

/** The emergency numbers of a country. @param country ISO 3166-1 alpha-2 */
export const emergencyNumbers = (country: string): readonly string[] => [
  ...EVERYWHERE,
  ...(NATIONAL[country] ?? []),
];
