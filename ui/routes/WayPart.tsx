import type { DiallingPage, TableBody } from '../../api/routing';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import {
  NO_WAY_OUT,
  permissionsFor,
  showNumber,
  showNumbersIn,
  type DialFault,
  type DialNote,
} from '../../core/calls/dialling';
import type { NumberWay, RouteNames, RouteTrace } from '../../core/routes';
import { shortName } from '../../core/calls/engine';
import { setPermission } from '../../core/editing';
import type { PersonPage } from '../../api/people';
import type { SlateEntry } from '../../core/changes/slate';
import { api, messageOf } from '../data/api';
import { personKey } from '../data/data';
import { useCanEdit } from '../data/session';
import { useWays } from '../data/routing';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { PersonSearch } from '../edit/Search';
import { ToSlate } from '../edit/ToSlate';
import { Words } from '../kit/Words';

export const FAULT_WORDS: Readonly<Record<DialFault, string>> = {
  empty: 'Nothing is typed.',
  letters: 'A number is dialled in digits, not letters.',
  'too-short': 'It is too short for a number.',
  'too-long': 'It is too long for a number.',
  'which-area': 'It fits more than one local area: add the area code.',
  'no-such-extension': 'There is no such extension.',
  'no-such-code': 'It is none of the organisation’s codes.',
  'not-a-number': 'The numbering plan has no such number.',
  'emergency-number': 'It is an emergency number, which is never a target.',
  'outside-code-twice': 'The outside code stands there twice.',
};
const NOTE_WORDS: Readonly<Record<DialNote, string>> = {
  'outside-code-added': 'the outside code was added',
  'area-code-added': 'the area code was added',
};

interface Step {
  readonly title: string;
  readonly text: string;
  readonly lost?: boolean;
}

/** The routes that act on a call, from the first to the last. */
const acting = (trace: RouteTrace): readonly string[] => [
  ...(trace.route === null ? [] : [trace.route]),
  ...trace.branches.flatMap((branch) => (branch.route === trace.route ? [] : acting(branch))),
];

/** The steps of a way, as far as it gets. */
export function stepsOf(
  way: NumberWay,
  table: TableBody | null,
  names: RouteNames,
  dialling: Pick<DiallingPage, 'trunks' | 'dialling'>,
): readonly Step[] {
  const { understood, permission, enters, trace, trunk, sent, end } = way;
  const [fault] = understood.faults;
  if (fault) return [{ title: 'Understood', text: FAULT_WORDS[fault], lost: true }];
  const what = {
    extension: `the extension ${understood.extension ?? ''}`,
    code: `the code ${understood.code ?? ''}: ${dialling.dialling.codes?.find(({ code }) => code === understood.code)?.does ?? ''}`,
    sip: `the address ${understood.uri ?? ''}`,
    number: `${understood.e164 ? showNumber(understood.e164) : ''}, ${understood.class ?? ''}; dialled as ${understood.dialAs ?? ''}`,
    invalid: 'nothing',
  }[understood.kind];
  const steps: Step[] = [
    {
      title: 'Understood',
      text: [what, ...understood.notes.map((note) => NOTE_WORDS[note])].join('; '),
    },
  ];
  if (!permission) return steps;
  steps.push(
    permission.ok
      ? { title: 'Permission', text: `the line may call it: ${permission.class}` }
      : {
          title: 'Permission',
          text: `${permission.reason ? NO_WAY_OUT[permission.reason] : ''}. ${permission.heard ?? ''}`,
          lost: true,
        },
  );
  if (trace && enters) {
    const all = acting(trace).map((id) => table?.routes.find((route) => route.id === id)?.name ?? id);
    steps.push({
      title: 'Route',
      text:
        end === 'not-routed'
          ? `${all.join(', then ') || 'no route takes it'}: as ${enters.number} it comes to no system. The caller gets a refusal.`
          : `${all.join(', then ')}, as ${enters.number} from ${names.peer(enters.peer)}`,
      lost: end === 'not-routed',
    });
  }
  if (end !== 'outside') return steps;
  const known = dialling.trunks.find(({ id }) => id === trunk);
  steps.push({
    title: 'Trunk',
    text: known ? `${known.name}, ${known.channels} channels` : 'none is named for the system',
  });
  steps.push({ title: 'Sent', text: sent ?? '' });
  return steps;
}

/** The change that gives somebody a permission, as a slate takes it. */
async function permissionEntry(person: string, permission: string): Promise<readonly SlateEntry[]> {
  const { person: base } = await api<PersonPage>('GET', personKey(person));
  return [{ kind: 'person', id: base.id, name: base.name, base, after: setPermission(base, permission) }];
}

/** A bench: what is typed at a line, followed from the keys to the digits that leave. */
export function WayPart({
  table,
  names,
  dialling,
}: {
  readonly table: TableBody | null;
  readonly names: RouteNames;
  readonly dialling: DiallingPage;
}) {
  const palette = usePalette();
  const wide = useIsWide();
  const router = useRouter();
  const canEdit = useCanEdit();
  const [typed, setTyped] = useState('');
  const [line, setLine] = useState<{ id: string; name: string } | null>(null);
  const ways = useWays(typed.trim() === '' ? [] : [typed], line?.id ?? null);
  const way = typed.trim() === '' ? undefined : ways.data?.[0];
  const e164 = way?.permission?.reason === 'not-permitted' ? way.understood.e164 : undefined;
  const [mend] = e164 === undefined ? [] : permissionsFor(e164, dialling);
  return (
    <Section title="Follow what somebody dials">
      <View
        style={{
          flexDirection: wide ? 'row' : 'column',
          gap: space(3),
          alignItems: wide ? 'flex-start' : 'stretch',
        }}
      >
        <View style={wide ? { width: 360 } : {}}>
          {line ? (
            <View style={{ gap: space(1) }}>
              <Words size="small" tone="soft">
                At the line of
              </Words>
              <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: space(2) }}>
                <Words strong>{line.name}</Words>
                <Button kind="quiet" label="Somebody else" onPress={() => setLine(null)} />
              </View>
            </View>
          ) : (
            <PersonSearch label="At whose line?" onPick={(id, name) => setLine({ id, name })} />
          )}
        </View>
        <View style={{ flex: wide ? 1 : undefined, maxWidth: wide ? 420 : undefined }}>
          <Field
            label="Typed, in any form"
            mono
            value={typed}
            onChange={setTyped}
            hint={line ? null : 'Choose whose line it is, and it is followed at once'}
          />
        </View>
      </View>
      {ways.isError ? <Trouble message={messageOf(ways.error)} retry={() => void ways.refetch()} /> : null}
      {line && typed.trim() !== '' && ways.isPending ? <Skeleton rows={2} /> : null}
      {way && line ? (
        <View
          role="list"
          aria-label={`The way of ${typed}`}
          style={{ flexDirection: wide ? 'row' : 'column', flexWrap: 'wrap', gap: space(2) }}
        >
          {stepsOf(way, table, names, dialling).map((step) => (
            <View
              role="listitem"
              key={step.title}
              style={{
                borderTopWidth: 4,
                borderColor: step.lost ? palette.rust : palette.kelp,
                backgroundColor: palette.sheet,
                padding: space(3),
                gap: 2,
                ...(wide ? { minWidth: 200, flex: 1 } : {}),
              }}
            >
              <Words size="small" tone={step.lost ? 'rust' : 'soft'} strong>
                {step.title}
              </Words>
              <Words mono={step.title === 'Sent'} live={step.lost === true}>
                {step.title === 'Sent' ? step.text : showNumbersIn(step.text)}
              </Words>
            </View>
          ))}
        </View>
      ) : null}
      {way?.end === 'not-permitted' && line ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-start', gap: space(2) }}>
          {mend && canEdit ? (
            <ToSlate
              label={`Give ${shortName(line.name)} the permission ${mend.name}`}
              entries={() => permissionEntry(line.id, mend.id)}
            />
          ) : null}
          <Button
            label={`Open ${line.name}`}
            onPress={() => router.navigate(`/people/${encodeURIComponent(line.id)}`)}
          />
        </View>
      ) : null}
    </Section>
  );
}
