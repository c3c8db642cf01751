import { useState } from 'react';
import { View } from 'react-native';
import {
  addStage,
  addTarget,
  carefulTarget,
  editStageTime,
  editTarget,
  moveStage,
  putStage,
  removeStage,
  removeTarget,
} from '../../core/editing';
import type { Estate, Person, RingStage, RingTarget, Stage } from '../../core/estate';
import { endpointName, shortName } from '../../core/calls/engine';
import { meetPerson } from '../data/met';
import { space, usePalette } from '../kit/theme';
import { Button, IconButton } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';
import { CodeStageEditor, OfferStageEditor } from './AskingStages';
import { PhoneOrPlan } from './PhoneOrPlan';
import { FoundList, PersonSearch } from '../edit/Search';
import type { StagesProps } from './stages';
import { Ask } from '../kit/Term';

const FRESH: readonly { label: string; stage: Stage }[] = [
  { label: 'Ring phones', stage: { ring: [], forMs: 20_000 } },
  {
    label: 'Greet and offer keys',
    stage: { offer: { greetingMs: 6000, waitMs: 4000, choices: [{ key: '1', then: 'next' }] } },
  },
  {
    label: 'Ask for a code',
    stage: { code: { digits: '1234', withinMs: 10_000, wrong: { kind: 'mailbox' } } },
  },
];
const titleOf = (stage: Stage) =>
  'ring' in stage ? 'rings' : 'offer' in stage ? 'greets and offers keys' : 'asks for a code';

/** The stages of a treatment, one after another. */
export function StagesEditor(props: StagesProps) {
  const { at, stages, onEdit } = props;
  const palette = usePalette();
  return (
    <View style={{ gap: space(3) }}>
      {stages.map((stage, i) => (
        <View
          key={`${i}-${titleOf(stage)}`}
          role="group"
          aria-label={`Step ${i + 1}`}
          style={{
            borderWidth: 1,
            borderColor: palette.line,
            backgroundColor: palette.sheet,
            padding: space(3),
            gap: space(3),
          }}
        >
          <View style={{ flexDirection: 'row', alignItems: 'center' }}>
            <Words strong style={{ flex: 1 }}>{`Step ${i + 1} ${titleOf(stage)}`}</Words>
            {i > 0 ? (
              <IconButton
                icon="up"
                label={`Step ${i + 1} earlier`}
                onPress={() => onEdit((p) => moveStage(p, at, i, i - 1))}
              />
            ) : null}
            {i < stages.length - 1 ? (
              <IconButton
                icon="down"
                label={`Step ${i + 1} later`}
                onPress={() => onEdit((p) => moveStage(p, at, i, i + 1))}
              />
            ) : null}
            <IconButton
              icon="close"
              label={`Remove step ${i + 1}`}
              onPress={() => onEdit((p) => removeStage(p, at, i))}
            />
          </View>
          {'ring' in stage ? (
            <RingEditor {...props} stage={stage} i={i} />
          ) : 'offer' in stage ? (
            <OfferStageEditor
              {...props}
              stage={stage}
              onStage={(next) => onEdit((p) => putStage(p, at, i, next), `${at}/${i}/offer`)}
            />
          ) : (
            <CodeStageEditor
              {...props}
              stage={stage}
              onStage={(next) => onEdit((p) => putStage(p, at, i, next), `${at}/${i}/code`)}
            />
          )}
        </View>
      ))}
      <View style={{ gap: space(1) }}>
        <View style={{ flexDirection: 'row', alignItems: 'center' }}>
          <Words size="small" tone="soft">
            {stages.length ? 'And then' : 'Nothing rings yet. First'}
          </Words>
          {stages.length ? <Ask term="find-me" /> : <Ask term="simultaneous-ring" />}
        </View>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {FRESH.map(({ label, stage }) => (
            <Button
              key={label}
              icon="add"
              label={label}
              onPress={() => onEdit((p) => addStage(p, at, stage))}
            />
          ))}
        </View>
      </View>
    </View>
  );
}

const secondsOf = (ms: number) => `${ms / 1000} s`;
function summary(target: RingTarget, estate: Estate): string {
  const parts = [
    target.delayMs ? `after ${secondsOf(target.delayMs)}` : 'at once',
    target.acceptAfterMs ? `answer guard ${secondsOf(target.acceptAfterMs)}` : '',
    target.giveUpAfterMs ? `stop ringing after ${secondsOf(target.giveUpAfterMs)}` : '',
    target.confirm && target.confirm !== 'none' ? (target.confirm === 'pin' ? 'by PIN' : 'by key') : '',
    target.schedule
      ? `${target.schedule.inside ? 'in' : 'outside'} ${estate.schedules.find(({ id }) => id === target.schedule?.id)?.name ?? ''}`
      : '',
    target.arrivals ? `for ${target.arrivals.join(', ') || 'no'} calls` : '',
    target.whileRegistered || target.unlessRegistered ? 'by registration of another' : '',
    target.onlyQuality ? `from MOS ${target.onlyQuality}` : '',
  ];
  return parts.filter(Boolean).join(', ');
}

function RingEditor({
  person,
  estate,
  index,
  at,
  stage,
  i,
  onEdit,
  onTarget,
}: StagesProps & { stage: RingStage; i: number }) {
  const palette = usePalette();
  const [adding, setAdding] = useState(false);
  const [met, setMet] = useState<Person | null>(null);
  const add = (target: RingTarget) => {
    onEdit((p) => addTarget(p, at, i, target));
    setAdding(false);
    setMet(null);
  };
  const rung = new Set(stage.ring.map((target) => target.endpoint));
  return (
    <>
      <TimeField
        label="For"
        value={stage.forMs}
        least={1}
        step={1000}
        onChange={(ms) => ms !== null && onEdit((p) => editStageTime(p, at, i, ms), `${at}/${i}/for`)}
      />
      {stage.ring.map((target, t) => {
        const name = endpointName(index, target.endpoint, person.id);
        return (
          <View
            key={`${target.endpoint}-${t}`}
            style={{
              flexDirection: 'row',
              alignItems: 'center',
              gap: space(1),
              borderTopWidth: 1,
              borderColor: palette.line,
              paddingTop: space(2),
            }}
          >
            <View style={{ flex: 1 }}>
              <Words strong>{name}</Words>
              <Words size="small" tone="soft">
                {summary(target, estate)}
              </Words>
              {target.agreedOn === undefined && !person.endpoints.some(({ id }) => id === target.endpoint) ? (
                <Words size="small" tone="ochre">
                  Whether they have agreed is not recorded
                </Words>
              ) : null}
            </View>
            <Button kind="quiet" label="Edit" onPress={() => onTarget(target.endpoint, at)} />
            <Toggle
              value={target.enabled !== false}
              onChange={(on) =>
                onEdit((p) =>
                  editTarget(
                    p,
                    { treatment: at, stage: i, target: t },
                    { enabled: on ? undefined : false, switchedOff: undefined },
                  ),
                )
              }
              label={`${name} rings in step ${i + 1}`}
            />
            <IconButton
              icon="close"
              label={`Remove ${name} from step ${i + 1}`}
              onPress={() => onEdit((p) => removeTarget(p, at, i, t))}
            />
          </View>
        );
      })}
      {adding ? (
        <View style={{ gap: space(2) }}>
          <FoundList
            found={person.endpoints
              .filter(({ id }) => !rung.has(id))
              .map((endpoint) => ({
                key: endpoint.id,
                title: endpoint.label,
                text: 'own phone',
                onPick: () => add(endpoint.number ? carefulTarget(endpoint.id) : { endpoint: endpoint.id }),
              }))}
          />
          <PersonSearch
            label="Or a colleague’s phone"
            except={person.id}
            onPick={(id) => void meetPerson(id).then((page) => setMet(page.person))}
          />
          {met ? (
            <>
              <Words size="small" tone="ochre">
                {`Rings ${shortName(met.name)}’s phone as a part of this plan: a message stays with ${shortName(person.name)}, and ${shortName(met.name)}’s own rules are not asked. Ask ${shortName(met.name)} first.`}
              </Words>
              <FoundList
                found={met.endpoints.map((endpoint) => ({
                  key: endpoint.id,
                  title: `${shortName(met.name)}’s ${endpoint.label}`,
                  text: 'a colleague’s phone',
                  onPick: () => add(endpoint.number ? carefulTarget(endpoint.id) : { endpoint: endpoint.id }),
                }))}
              />
              <PhoneOrPlan owner={person} estate={estate} colleague={met} />
            </>
          ) : null}
          <Button kind="quiet" label="Add nothing" onPress={() => setAdding(false)} />
        </View>
      ) : (
        <Button kind="quiet" icon="add" label="Add a phone" onPress={() => setAdding(true)} />
      )}
    </>
  );
}
