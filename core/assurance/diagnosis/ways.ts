import { METHOD_WORDS } from '../checks';
import { andList, type Estate, type Person } from '../../estate';
import {
  failWords,
  nameIn,
  networkOf,
  pathAnswers,
  recommend,
  topologyOf,
  verdictsOf,
  type PathAnswer,
  type PathVerdicts,
  type SiteNetworkOf,
  type Way,
} from '../../network';

/** What somebody complains of that comes of the way through networks, and how it shows in what packets do. */
interface WayComplaint {
  readonly id: string;
  readonly says: string;
  readonly shows: (verdicts: PathVerdicts) => readonly PathAnswer['id'][];
}
type Question = Exclude<PathAnswer['id'], 'addressChange'>;

const fails = (verdicts: PathVerdicts, ...questions: readonly Question[]): readonly Question[] =>
  questions.filter((question) =>
    question === 'rings' ? verdicts.worksUntil !== null : verdicts[question].verdict === 'fails',
  );
const isOneWay = ({ soundOut, soundIn }: PathVerdicts) => soundOut.verdict !== soundIn.verdict;

const OWN: readonly WayComplaint[] = [
  {
    id: 'one-way-sound',
    says: 'Only one of the two hears the other',
    shows: (verdicts) => (isOneWay(verdicts) ? fails(verdicts, 'soundOut', 'soundIn') : []),
  },
  {
    id: 'dead-after-a-while',
    says: 'It rings just after it was started, and later no more',
    shows: (verdicts) => (verdicts.worksUntil === 0 ? [] : fails(verdicts, 'rings')),
  },
  {
    id: 'ends-after-32-s',
    says: 'Calls end after half a minute',
    shows: (verdicts) => fails(verdicts, 'staysUp'),
  },
  {
    id: 'only-in-the-office',
    says: 'It works in the office and not where I am',
    shows: (verdicts) => fails(verdicts, 'registers', 'rings', 'soundOut', 'soundIn', 'staysUp'),
  },
];
/** Complaints about phones of which the network may be the cause too. */
const SHARED: readonly WayComplaint[] = ['home-dead', 'app-silent', 'desk-silent'].map((id) => ({
  id,
  says: '',
  shows: (verdicts) => fails(verdicts, 'registers', 'rings'),
}));

/** A cause that lies on the way of a phone's packets. */
export interface WayCause {
  readonly id: string;
  readonly says: string;
  readonly because: string;
  readonly tell: string;
  readonly mend: string;
  /** Where the phone stands. */
  readonly site: string;
}

const TELL: Record<Question, (verdicts: PathVerdicts) => string> = {
  registers: () =>
    'The phone shows that it is not registered, and its log a REGISTER without an answer. Over a mobile’s hotspot it registers.',
  rings: ({ worksUntil }) =>
    worksUntil === 0
      ? 'It shows that it is registered, and no call from another phone ever rings it.'
      : `Restart it and call it at once: it rings. Call it again ${(worksUntil ?? 0) + 10} s later: it does not.`,
  soundOut: () => 'Call it and speak there: the other end hears nothing, whoever calls.',
  soundIn: () => 'Call it and speak here: nothing is heard at the phone, whoever calls.',
  staysUp: () => 'Each call that it places ends 32 s after the answer, to the second.',
};

const wayWords = ({ method, transport, set }: Way): string =>
  `Of what works there ${METHOD_WORDS[method]} over ${transport.toUpperCase()} needs least${
    set.length > 0 ? `: set ${andList(set)}` : ''
  }.`;

interface PlacedAt {
  readonly of: SiteNetworkOf;
  readonly site: string;
}

/** The networks in which a person's phones stand. */
function networksOf(estate: Estate, person: Person): readonly PlacedAt[] {
  const own = new Set(person.endpoints.map(({ id }) => id));
  const sites = new Set([
    ...(estate.devices ?? []).flatMap(({ endpoint, site }) =>
      endpoint !== undefined && own.has(endpoint) && site !== undefined ? [site] : [],
    ),
    ...person.endpoints.flatMap(({ path }) => (path?.site === undefined ? [] : [path.site])),
  ]);
  return [...sites].flatMap((site) => {
    const of = networkOf(estate, site);
    return typeof of === 'string' ? [] : [{ of, site }];
  });
}

/** The complaints about a way through networks that can be a person's: where a phone of theirs stands in one. */
export const wayComplaintsOf = (
  estate: Estate,
  person: Person,
): readonly { readonly id: string; readonly says: string }[] =>
  networksOf(estate, person).some(({ of }) => of.phones.some((phone) => phone.person?.id === person.id))
    ? OWN.map(({ id, says }) => ({ id, says }))
    : [];

/** Whether a complaint is about a way through networks alone. */
export const isWayComplaint = (complaint: string): boolean => OWN.some(({ id }) => id === complaint);

/**
 * What of the ways of a person's phones would produce a complaint: each phone's packets are sent through its network.
 * @returns the causes, and how many questions were asked of how many phones
 */
export function wayCauses(
  estate: Estate,
  person: Person,
  complaintId: string,
): { readonly causes: readonly WayCause[]; readonly searched: number } {
  const complaint = [...OWN, ...SHARED].find(({ id }) => id === complaintId);
  if (!complaint) return { causes: [], searched: 0 };
  const causes: WayCause[] = [];
  let searched = 0;
  for (const { of, site } of networksOf(estate, person)) {
    const nameOf = nameIn(of);
    const topology = topologyOf(of.network);
    for (const placed of of.phones) {
      const phone = of.network.phones.find(({ id }) => id === placed.id);
      if (placed.person?.id !== person.id || !phone) continue;
      const verdicts = verdictsOf(topology, phone);
      const answers = pathAnswers(verdicts, nameOf);
      searched += answers.length;
      const [best] = recommend(of.network, phone).ways;
      for (const question of complaint.shows(verdicts)) {
        const answer = answers.find(({ id }) => id === question);
        if (!answer || question === 'addressChange') continue;
        causes.push({
          id: `${placed.id} ${question}`,
          says: `${placed.name} ${failWords(question, verdicts.worksUntil)}`,
          because: answer.says,
          tell: TELL[question](verdicts),
          mend: best ? wayWords(best) : 'Nothing that the organisation’s servers allow works there.',
          site,
        });
      }
    }
  }
  return { causes, searched };
}
