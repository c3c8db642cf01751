import {
  readNetwork,
  recommend,
  topologyOf,
  verdictsOf,
  type Network,
  type PathVerdicts,
  type Recommendation,
  type Verdict,
} from '../core/network';
import type { Fault, NetworkPhone } from '../core/estate';
import { fail, failWith, options, readJson } from './io';

const inWords = ({ verdict, reason, at }: Verdict): string =>
  verdict === 'works' ? 'works' : `fails: ${reason ?? 'not known'}${at === undefined ? '' : ` at ${at}`}`;

const sayVerdicts = (verdicts: PathVerdicts): string =>
  [
    verdicts.phone,
    `  registers      ${inWords(verdicts.registers)}`,
    ...Object.entries(verdicts.ringsAfter).map(
      ([silence, verdict]) => `  rings after ${silence.padStart(4)} s  ${inWords(verdict)}`,
    ),
    `  works until    ${verdicts.worksUntil === null ? 'for ever' : `${verdicts.worksUntil} s`}`,
    `  sound out      ${inWords(verdicts.soundOut)}`,
    `  sound in       ${inWords(verdicts.soundIn)}`,
    `  stays up       ${inWords(verdicts.staysUp)}`,
    ...(verdicts.phoneToPhone
      ? [
          `  phone to phone ${inWords(verdicts.phoneToPhone.there)} · back ${inWords(verdicts.phoneToPhone.back)}`,
        ]
      : []),
    `  address change ${
      verdicts.survives.addressChange === null
        ? 'no calls any more'
        : `${verdicts.survives.addressChange} s without calls`
    }`,
    ...(verdicts.survives.relayStops.length > 0
      ? [`  relay stops    silent with it: ${verdicts.survives.relayStops.join(', ')}`]
      : []),
  ].join('\n');

const sayRecommended = ({ phone, ways, rejected }: Recommendation): string =>
  [
    phone,
    ...(ways.length === 0 ? ['  nothing works here'] : []),
    ...ways.map(
      (way, at) =>
        `  ${at + 1}. ${way.method} over ${way.transport}: ${[
          ...way.set,
          way.keepAliveS === null ? 'no keep-alive needed' : `keep-alive every ${way.keepAliveS} s`,
          `${way.bytesADay} octets a day`,
        ].join('; ')}`,
    ),
    ...rejected.map(
      (each) =>
        `  not ${each.method} over ${each.transport}: ${each.question} ${each.reason}${each.at === undefined ? '' : ` at ${each.at}`}`,
    ),
  ].join('\n');

/** The phones that are asked about: all, or the one that is named. */
function chosen(network: Network, id: string | undefined, option: string): readonly NetworkPhone[] | string {
  if (id === undefined) return network.phones;
  const found = network.phones.filter((phone) => phone.id === id);
  return found.length > 0 ? found : `${option}: there is no phone “${id}” in “${network.name}”`;
}

/**
 * `path --network FILE [--phone ID] [--with ID] [--recommend] [--json]`: whether each phone of a network (or the one
 * named) registers, keeps ringing, has sound both ways and stays up, and where its packets die. An array of networks
 * gives an array of answers.
 */
export async function path(args: string[]): Promise<number> {
  const string = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  const given = options(args, { network: string, phone: string, with: string, recommend: flag, json: flag });
  if (!given.ok) return fail(given.message);
  const { network: file, phone, with: other } = given.value as Record<string, string | undefined>;
  if (file === undefined) return fail('--network FILE is needed');
  const json = readJson(file);
  if (!json.ok) return fail(json.message);
  const isList = Array.isArray(json.value);
  const read = (isList ? (json.value as readonly unknown[]) : [json.value]).map(readNetwork);
  const faults = read.flatMap((each, at): readonly Fault[] =>
    each.ok
      ? []
      : each.faults.map((fault) =>
          isList ? { ...fault, path: `[${at}]${fault.path ? `.${fault.path}` : ''}` } : fault,
        ),
  );
  if (faults.length > 0) return failWith(faults);
  const networks = read.flatMap((each) => (each.ok ? [each.network] : []));
  const asked: {
    readonly network: Network;
    readonly phones: readonly NetworkPhone[];
    readonly other?: NetworkPhone;
  }[] = [];
  for (const network of networks) {
    const phones = chosen(network, phone, '--phone');
    if (typeof phones === 'string') return fail(phones);
    const others = other === undefined ? [] : chosen(network, other, '--with');
    if (typeof others === 'string') return fail(others);
    asked.push({ network, phones, ...(others[0] ? { other: others[0] } : {}) });
  }
  const print = <T>(answers: readonly (readonly T[])[], words: (answer: T) => string) => {
    process.stdout.write(
      given.value.json === true
        ? `${JSON.stringify(isList ? answers : answers[0])}\n`
        : `${answers.flatMap((each) => each.map(words)).join('\n\n')}\n`,
    );
    return 0;
  };
  return given.value.recommend === true
    ? print(
        asked.map(({ network, phones }) => phones.map((each) => recommend(network, each))),
        sayRecommended,
      )
    : print(
        asked.map(({ network, phones, other: second }) => {
          const topology = topologyOf(network);
          return phones.map((each) => verdictsOf(topology, each, second));
        }),
        sayVerdicts,
      );
}
