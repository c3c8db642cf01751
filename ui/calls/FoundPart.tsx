import { useState } from 'react';
import { DateTime } from 'luxon';
import { View } from 'react-native';
import type { CallImport, CallRow } from '../../api/calls';
import { isZone, zoneNamed } from '../../core/zones';
import {
  CALL_FIELD_NAMES,
  CALL_FIELDS,
  type CallChoices,
  type CallField,
  type DateOrder,
} from '../../core/records';
import { useZone } from '../data/session';
import { Button, Choice, Field, Fold, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { OUTCOMES, sayAfter, sayLength, sayNumber, sayOutcome } from './words';

const ORDERS: readonly (readonly [DateOrder, string])[] = [
  ['iso', 'Year first: 2026-11-24'],
  ['dmy', 'Day first: 24.11.2026'],
  ['mdy', 'Month first: 11/24/2026'],
  ['epoch', 'Seconds since 1970'],
];

/** What was found in a file, and what its columns and words are taken to mean; all of it can be set right. */
export function FoundPart({
  found,
  sample,
  busy,
  onLook,
}: {
  readonly found: NonNullable<CallImport['found']>;
  readonly sample: readonly CallRow[];
  readonly busy: boolean;
  readonly onLook: (choices: Partial<CallChoices>) => void;
}) {
  const own = useZone();
  const [columns, setColumns] = useState<Partial<Record<CallField, number>>>(found.choices?.columns ?? {});
  const [dates, setDates] = useState<DateOrder>(found.choices?.dates ?? 'iso');
  const [zone, setZone] = useState(found.choices?.timeZone ?? own);
  const [isByLeg, setByLeg] = useState(found.choices?.isByLeg ?? false);
  const [within, setWithin] = useState(String(found.choices?.joinWithinS ?? 3));
  const [words, setWords] = useState<Readonly<Record<string, string>>>(found.choices?.words ?? {});
  const joinWithinS = /^\d{1,3}$/.test(within) ? Number(within) : null;
  const unknown = found.words.filter(({ means }) => means === null);
  const isTable = found.headings.length > 0;
  const isWhole = isZone(zone) && joinWithinS !== null;
  return (
    <>
      {sample.length > 0 ? <SamplePart sample={sample} /> : null}
      {found.isUnsure ? (
        <Section>
          <Words strong tone="ochre">
            Day and month could stand the other way round: look at the dates above, and say it below.
          </Words>
        </Section>
      ) : null}
      {found.tooOld > 0 ? (
        <Section>
          <Words strong tone="ochre">
            {`${found.tooOld.toLocaleString('en')} calls are left out: they are older than calls are kept here.`}
          </Words>
        </Section>
      ) : null}
      {found.twice > 0 ? (
        <Section>
          <Words tone="ochre">
            {`${found.twice} times of day were shown twice by the clock when it was put back: the first is taken.`}
          </Words>
        </Section>
      ) : null}
      {isTable ? (
        <Section title="What it means">
          <Fold title="Columns" open={found.why !== null}>
            <Section>
              {found.headings.map((heading, at) => (
                <ColumnLine
                  key={at}
                  heading={heading || `Column ${at + 1}`}
                  field={CALL_FIELDS.find((field) => columns[field] === at) ?? null}
                  onField={(field) =>
                    setColumns((before) => {
                      const rest = Object.fromEntries(
                        Object.entries(before).filter(([name, column]) => column !== at && name !== field),
                      );
                      return field === null ? rest : { ...rest, [field]: at };
                    })
                  }
                />
              ))}
            </Section>
          </Fold>
          <Choice
            label="How dates are written"
            value={dates}
            options={ORDERS.map(([value, label]) => ({ value, label }))}
            onChange={setDates}
          />
          <Choice
            label="One row is"
            value={isByLeg ? 'leg' : 'call'}
            options={[
              { value: 'call', label: 'One row a call' },
              { value: 'leg', label: 'One row a phone that rang' },
            ]}
            onChange={(value) => setByLeg(value === 'leg')}
          />
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            <View style={{ flexGrow: 1, flexBasis: 220, maxWidth: 320 }}>
              <Field
                label="Time zone of its clock"
                value={zone}
                onChange={setZone}
                error={isZone(zone) ? null : 'As Europe/Berlin'}
                hint="Where a time does not say it itself"
              />
            </View>
            {isByLeg ? (
              <View style={{ flexGrow: 1, flexBasis: 220, maxWidth: 320 }}>
                <Field
                  label="One call if they begin within, s"
                  mono
                  keyboard="decimal-pad"
                  value={within}
                  onChange={setWithin}
                  error={joinWithinS === null ? 'From 0 to 600' : null}
                  hint="Where no column has the call’s id"
                />
              </View>
            ) : null}
          </View>
          {unknown.map(({ key, word, count }) => (
            <View key={key} style={{ gap: space(1) }}>
              <Words strong>{`What does “${word}” mean? It stands in ${count} rows.`}</Words>
              <Choice
                label={`What “${word}” means`}
                value={words[key] ?? null}
                options={OUTCOMES.map(([value, label]) => ({ value: value as string, label }))}
                onChange={(value) => setWords((before) => ({ ...before, [key]: value }))}
              />
            </View>
          ))}
          <View style={{ flexDirection: 'row' }}>
            <Button
              label="Look through it again"
              busy={busy}
              disabled={!isWhole}
              onPress={() =>
                onLook({ columns, dates, timeZone: zone, isByLeg, joinWithinS: joinWithinS ?? 3, words })
              }
            />
          </View>
        </Section>
      ) : null}
      {found.faults.length > 0 ? <FaultsPart found={found} /> : null}
    </>
  );
}

const FIELDS: readonly { readonly value: CallField | 'none'; readonly label: string }[] = [
  { value: 'none', label: 'Nothing' },
  ...CALL_FIELDS.map((value) => ({ value, label: CALL_FIELD_NAMES[value] })),
];

function ColumnLine({
  heading,
  field,
  onField,
}: {
  readonly heading: string;
  readonly field: CallField | null;
  readonly onField: (field: CallField | null) => void;
}) {
  const palette = usePalette();
  const [isOpen, setOpen] = useState(false);
  return (
    <View style={{ borderBottomWidth: 1, borderColor: palette.line, paddingVertical: space(1) }}>
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
        <Words style={{ flex: 1 }}>
          <Words strong>{heading}</Words>
          {`  ${field === null ? 'nothing' : CALL_FIELD_NAMES[field].toLowerCase()}`}
        </Words>
        <Button kind="quiet" label={isOpen ? 'Done' : `Change ${heading}`} onPress={() => setOpen(!isOpen)} />
      </View>
      {isOpen ? (
        <Choice
          label={`What ${heading} means`}
          value={field ?? 'none'}
          options={FIELDS}
          onChange={(value) => onField(value === 'none' ? null : value)}
        />
      ) : null}
    </View>
  );
}

/** With its year: files are of any time. */
const sayFull = (iso: string, zone: string): string =>
  DateTime.fromISO(iso, { zone: zoneNamed(zone) })
    .setLocale('en')
    .toFormat('d LLLL yyyy, HH:mm:ss');

function SamplePart({ sample }: { readonly sample: readonly CallRow[] }) {
  const zone = useZone();
  return (
    <Section title="The first calls, as they are read">
      <View role="list">
        {sample.slice(0, 6).map((row) => (
          <View role="listitem" key={row.id} style={{ paddingVertical: space(1) }}>
            <Words>
              {`${sayFull(row.at, zone)}, ${sayNumber(row.from)} to ${row.toName ?? sayNumber(row.to)}: ${[
                `${sayOutcome(row.outcome)} ${sayAfter(row.atMs)}`,
                ...(row.answeredBy ? [`at ${row.answeredBy}`] : []),
                ...(row.talkMs > 0 ? [`talked ${sayLength(row.talkMs)}`] : []),
                ...(row.legs.length > 0 ? [`${row.legs.length} phones`] : []),
              ].join(', ')}`}
            </Words>
          </View>
        ))}
      </View>
    </Section>
  );
}

function FaultsPart({ found }: { readonly found: NonNullable<CallImport['found']> }) {
  const { faults, faultCount } = found;
  return (
    <Section title={`${faultCount.toLocaleString('en')} rows that cannot be read`}>
      <Words tone="soft">They are left out; the others come in.</Words>
      <View role="list">
        {faults.slice(0, 30).map(({ line, column, message }, n) => (
          <View role="listitem" key={n}>
            <Words>{`Line ${line}${column > 0 ? `, column ${column}` : ''}: ${message}`}</Words>
          </View>
        ))}
      </View>
      {faultCount > 30 ? <Words tone="soft">{`And ${faultCount - 30} more.`}</Words> : null}
    </Section>
  );
}
