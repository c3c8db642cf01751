import { useState } from 'react';
import { View } from 'react-native';
import { readNumber, showNumber } from '../../core/calls/dialling';
import {
  editEndpoint,
  editStageTime,
  editTarget,
  ringWithFirstStage,
  carefulTarget,
  treatmentAt,
  type TargetAt,
  type TargetPatch,
} from '../../core/editing';
import {
  endpointTimes,
  isPlace,
  type Endpoint,
  type Estate,
  type Person,
  type RingTarget,
} from '../../core/estate';
import { adviseTimes, carrierTimes, timesFaults } from '../../core/calls/views';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Field } from '../kit/parts';
import { AgreedSwitch } from './AgreedSwitch';
import { CallerId } from './CallerId';
import { PhoneSettings } from './PhoneSettings';
import { ReadBack } from './ReadBack';
import { TargetConditions } from './TargetConditions';
import { TimeField } from '../kit/TimeField';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';
import { Ask } from '../kit/Term';
import { fieldLabel } from '../kit/fieldLabel';

interface Props {
  readonly person: Person;
  readonly estate: Estate;
  readonly endpointId: string;
  /** A rule's id, or `otherwise`: the treatment that is in view. */
  readonly treatment: string;
  readonly onEdit: (change: (person: Person) => Person, merge?: string) => void;
}

/** Where a treatment rings an endpoint; null if it does not. */
export function targetIn(
  person: Person,
  treatment: string,
  endpointId: string,
): { at: TargetAt; target: RingTarget; forMs: number } | null {
  const { stages } = treatmentAt(person.plan, treatment);
  for (const [stage, each] of stages.entries()) {
    if (!('ring' in each)) continue;
    const target = each.ring.findIndex((t) => t.endpoint === endpointId);
    if (target >= 0)
      return { at: { treatment, stage, target }, target: each.ring[target]!, forMs: each.forMs };
  }
  return null;
}

/** How one endpoint rings in the treatment in view: everything changes the strip at once. */
export function TargetEditor({ person, estate, endpointId, treatment, onEdit }: Props) {
  const own = person.endpoints.find((e) => e.id === endpointId);
  const colleague = own ? null : estate.people.find((p) => p.endpoints.some((e) => e.id === endpointId));
  const endpoint = own ?? colleague?.endpoints.find((e) => e.id === endpointId);
  if (!endpoint) return <Words tone="soft">This phone is gone. Remove it from the step.</Words>;
  const found = targetIn(person, treatment, endpointId);
  if (!found)
    return (
      <View style={{ gap: space(3), alignItems: 'flex-start' }}>
        <Words>This part of the plan does not ring {endpoint.label}.</Words>
        <Button
          kind="main"
          label={`Ring ${endpoint.label} too`}
          onPress={() =>
            onEdit((p) =>
              ringWithFirstStage(
                p,
                endpoint.number ? carefulTarget(endpoint.id) : { endpoint: endpoint.id },
                treatment,
              ),
            )
          }
        />
      </View>
    );
  const { at, target, forMs } = found;
  const isNumber = endpoint.number !== undefined;
  const patch = (change: TargetPatch, merge?: string) =>
    onEdit((p) => editTarget(p, at, change), merge ? `${endpointId}/${merge}` : undefined);
  const times = endpointTimes(endpoint);
  return (
    <View style={{ gap: space(4) }}>
      <View
        style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: space(3) }}
      >
        <View style={{ flex: 1 }}>
          <Words strong>Rings</Words>
          <Words size="small" tone="soft">
            Off keeps every setting for later.
          </Words>
        </View>
        <Toggle
          value={target.enabled !== false}
          onChange={(on) => patch({ enabled: on ? undefined : false, switchedOff: undefined })}
          label={`${endpoint.label} rings`}
        />
      </View>
      {colleague ? (
        <AgreedSwitch
          name={colleague.name}
          agreedOn={target.agreedOn}
          onChange={(agreedOn) => patch({ agreedOn })}
        />
      ) : null}
      {colleague ? (
        <Words size="small" tone="soft">
          {`This phone is ${colleague.name}’s. How it rings here is set in this plan; its number and its carrier’s times on ${colleague.name}’s page.`}
        </Words>
      ) : null}
      {isNumber && own && !isPlace(own.id) ? (
        <NumberField key={endpoint.id} endpoint={endpoint} person={person} estate={estate} onEdit={onEdit} />
      ) : null}
      <TimeField
        label={fieldLabel('person', 'plan.otherwise.stages.ring.delayMs')}
        term="delay"
        value={target.delayMs ?? 0}
        onChange={(ms) => patch({ delayMs: ms || undefined }, 'delay')}
        hint={`${times.setupMs / 1000} s of set-up come on top`}
      />
      <TimeField
        label="The step rings for"
        value={forMs}
        least={1000}
        step={1000}
        onChange={(ms) =>
          ms !== null && onEdit((p) => editStageTime(p, at.treatment, at.stage, ms), `${endpointId}/for`)
        }
      />
      {isNumber ? (
        <>
          <TimeField
            label={fieldLabel('person', 'plan.otherwise.stages.ring.acceptAfterMs')}
            term="answer-guard"
            value={target.acceptAfterMs ?? 0}
            step={100}
            onChange={(ms) => patch({ acceptAfterMs: ms || undefined }, 'guard')}
            hint="An answer sooner than this is a voicemail's, not a person's"
          />
          <TimeField
            label={fieldLabel('person', 'plan.otherwise.stages.ring.giveUpAfterMs')}
            term="stop-ringing-after"
            value={target.giveUpAfterMs ?? null}
            canBeNone
            onChange={(ms) => patch({ giveUpAfterMs: ms ?? undefined }, 'give-up')}
            hint={
              times.mailboxAfterMs === null
                ? 'No mobile carrier’s voicemail is known here'
                : `The mobile carrier's voicemail answers ${(times.setupMs + times.mailboxAfterMs) / 1000} s after dialling`
            }
          />
        </>
      ) : null}
      <Advice endpoint={endpoint} target={target} forMs={forMs} onTake={patch} />
      <View style={{ gap: space(1) }}>
        <Choice
          titled
          beside={<Ask term="confirm" />}
          label="Confirm with a key"
          value={target.confirm ?? 'none'}
          options={[
            { value: 'none', label: 'No: an answer connects' },
            { value: 'key', label: 'Press 1 to accept' },
            { value: 'key-name', label: 'Press 1, hears who calls' },
            { value: 'pin', label: 'PIN to accept' },
          ]}
          onChange={(confirm) => patch({ confirm: confirm === 'none' ? undefined : confirm })}
        />
      </View>
      {isNumber ? (
        <CallerId
          key={`${endpointId}-id`}
          present={target.present}
          person={person}
          estate={estate}
          onChange={(present) => patch({ present }, 'present')}
        />
      ) : null}
      <Hours target={target} estate={estate} onChange={(schedule) => patch({ schedule })} />
      <TargetConditions target={target} endpoint={endpoint} person={person} onChange={patch} />
      {own && !isPlace(own.id) ? (
        <PhoneSettings
          key={`${endpoint.id}-phone`}
          endpoint={endpoint}
          onChange={(change, merge) =>
            onEdit((p) => editEndpoint(p, endpoint.id, change), `${endpointId}/${merge}`)
          }
        />
      ) : null}
    </View>
  );
}

function Hours({
  target,
  estate,
  onChange,
}: {
  target: RingTarget;
  estate: Estate;
  onChange: (schedule: RingTarget['schedule']) => void;
}) {
  const value = target.schedule ? `${target.schedule.inside ? 'in' : 'out'}:${target.schedule.id}` : 'always';
  return (
    <View style={{ gap: space(1) }}>
      <Choice
        titled
        label="Hours"
        value={value}
        options={[
          { value: 'always', label: 'Always' },
          ...estate.schedules.map((s) => ({ value: `in:${s.id}`, label: s.name })),
          ...(target.schedule && !target.schedule.inside
            ? [
                {
                  value,
                  label: `Outside ${estate.schedules.find((s) => s.id === target.schedule?.id)?.name ?? ''}`,
                },
              ]
            : []),
        ]}
        onChange={(next) =>
          onChange(
            next === 'always'
              ? undefined
              : { id: next.slice(next.indexOf(':') + 1), inside: next.startsWith('in:') },
          )
        }
      />
    </View>
  );
}

/** A mobile's or landline's number: any form is accepted and read back. */
function NumberField({
  endpoint,
  person,
  estate,
  onEdit,
}: {
  endpoint: Endpoint;
  person: Person;
  estate: Estate;
  onEdit: Props['onEdit'];
}) {
  const [text, setText] = useState(showNumber(endpoint.number ?? ''));
  const read = readNumber(text, estate.dialling);
  return (
    <View style={{ gap: space(1) }}>
      <Field
        label="Number"
        keyboard="phone-pad"
        mono
        value={text}
        onChange={(next) => {
          setText(next);
          const number = readNumber(next, estate.dialling);
          if (number.ok && number.e164 !== endpoint.number)
            onEdit((p) => editEndpoint(p, endpoint.id, { number: number.e164 }), `${endpoint.id}/number`);
        }}
        error={read.ok ? null : `${read.reason}. Until then ${showNumber(endpoint.number ?? '')} stays.`}
      />
      {read.ok ? (
        <ReadBack
          e164={read.e164}
          holder={person}
          estate={estate}
          onPermission={(permission) => onEdit((before) => ({ ...before, permission }))}
        />
      ) : null}
    </View>
  );
}

/** How far a carrier's times may lie from those that are known. */
export const SPREADS = [
  { value: '0', label: 'As they are' },
  { value: '0.1', label: 'A tenth' },
  { value: '0.2', label: 'A fifth' },
] as const;

/** What the carrier's times allow: the window of each time and why, taken with a tap. */
function Advice({
  endpoint,
  target,
  forMs,
  onTake,
}: {
  endpoint: Endpoint;
  target: RingTarget;
  forMs: number;
  onTake: (patch: TargetPatch) => void;
}) {
  const palette = usePalette();
  const [spread, setSpread] = useState<(typeof SPREADS)[number]['value']>('0');
  const times = carrierTimes(endpoint, Number(spread));
  if (!times || (target.confirm ?? 'none') !== 'none') return null;
  const advice = adviseTimes(times);
  const faults = timesFaults(target, forMs, times);
  const say = (window: { fromMs: number; toMs: number } | null) =>
    window ? `${window.fromMs / 1000} s to ${window.toMs / 1000} s` : 'no time is safe';
  return (
    <View
      style={{
        gap: space(2),
        padding: space(3),
        borderWidth: 1,
        borderColor: faults.length ? palette.ochre : palette.line,
        backgroundColor: palette.ground,
        alignItems: 'flex-start',
      }}
    >
      <Words strong>{faults.length ? 'These times are not safe' : 'These times are safe'}</Words>
      <Words size="small">{`Answer guard: ${say(advice.guard)}. ${advice.guardWhy}`}</Words>
      <Words size="small">{`Stop ringing: ${say(advice.giveUp)}. ${advice.giveUpWhy}`}</Words>
      <Choice
        titled
        label="The carrier’s times may differ by"
        value={spread}
        options={SPREADS}
        onChange={setSpread}
      />
      {faults.length === 0 ? null : advice.take ? (
        <Button
          label={`Take ${advice.take.guardMs / 1000} s and ${advice.take.giveUpMs / 1000} s`}
          onPress={() =>
            onTake({ acceptAfterMs: advice.take?.guardMs, giveUpAfterMs: advice.take?.giveUpMs })
          }
        />
      ) : (
        <Button
          label="Confirm with a key"
          onPress={() => onTake({ confirm: 'key', acceptAfterMs: undefined, giveUpAfterMs: undefined })}
        />
      )}
    </View>
  );
}
