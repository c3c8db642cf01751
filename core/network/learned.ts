import { INTERNET, type BoxFile, type NatBehaviour } from '../estate';
import { NETWORK_KINDS } from './assemble';

/** What the check of a line tells of the boxes that it went through. */
export interface LineTold {
  /** By which way the relay was reached; null: by none. */
  readonly by: 'udp' | 'tcp' | 'tls' | null;
  /** How different the outside socket of one inside socket was; null: not to be told. */
  readonly mapping: 'same' | 'by-address' | 'by-port' | null;
  /** The address that the world sees; null: not seen. */
  readonly outside: string | null;
}

/** Boxes as a check has shown them, and what is other than they were described. */
export interface Learned {
  readonly boxes: readonly BoxFile[];
  readonly says: readonly string[];
}

const MAPPINGS: Readonly<Record<NonNullable<LineTold['mapping']>, NatBehaviour>> = {
  same: 'endpoint-independent',
  'by-address': 'address-dependent',
  'by-port': 'address-and-port-dependent',
};
const MAPPING_SAYS: Readonly<Record<NatBehaviour, string>> = {
  'endpoint-independent': 'has one outside port for all destinations',
  'address-dependent': 'has another outside port for each address',
  'address-and-port-dependent': 'has another outside port for each destination',
};

/**
 * What a check of a line shows otherwise than the boxes of its site are described: the outermost box with NAT has the
 * outside address and, where it is the only one, the mapping; UDP passes or it does not.
 * @returns null where nothing is other
 */
export function learnedOf(given: readonly BoxFile[], told: LineTold): Learned | null {
  // Without a way to the relay nothing is known but that.
  if (told.by === null) return null;
  const [usual] = NETWORK_KINDS;
  const boxes = given.length > 0 ? given : (usual?.boxes ?? []);
  const outermost = boxes.find((box) => box.in === INTERNET && box.nat !== false);
  if (!outermost) return null;
  const says: string[] = [];
  let box: BoxFile = outermost;
  if (given.length === 0) says.push(`There is one router with NAT: “${box.name}”`);
  if (told.outside !== null && told.outside !== box.outside) {
    box = { ...box, outside: told.outside };
    says.push(`“${box.name}” has the outside address ${told.outside}`);
  }
  const mapping = told.mapping && MAPPINGS[told.mapping];
  // One that keeps a port for all destinations does so in every box; of another it is not told which one it is.
  const isOnly = boxes.filter((each) => each.nat !== false).length === 1;
  if (mapping && isOnly && mapping !== (box.mapping ?? 'endpoint-independent')) {
    box = { ...box, mapping };
    says.push(`“${box.name}” ${MAPPING_SAYS[mapping]}`);
  }
  const blocks = (each: BoxFile) => (each.blocked ?? []).includes('udp');
  let others = boxes.filter((each) => each !== outermost);
  if (told.by === 'udp') {
    for (const each of [box, ...others].filter(blocks)) says.push(`“${each.name}” lets UDP pass`);
    const open = (each: BoxFile): BoxFile =>
      blocks(each) ? { ...each, blocked: (each.blocked ?? []).filter((rule) => rule !== 'udp') } : each;
    box = open(box);
    others = others.map(open);
  } else if (![box, ...others].some(blocks)) {
    box = { ...box, blocked: [...(box.blocked ?? []), 'udp'] };
    says.push(`“${box.name}” blocks UDP`);
  }
  if (says.length === 0) return null;
  return {
    boxes: boxes.map((each) =>
      each === outermost ? box : (others.find(({ id }) => id === each.id) ?? each),
    ),
    says,
  };
}
