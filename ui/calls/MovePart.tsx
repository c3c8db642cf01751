import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import { actOn, beginMove, waitFor, type HeardByOther, type MoveAction } from '../../core/calls/move';
import { settingsOf, type Person } from '../../core/estate';
import { seconds, theEndpoint, type Call, type EstateIndex, type Trace } from '../../core/calls/engine';
import { space, usePalette } from '../kit/theme';
import { Button, Field, Section } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';

const HEARS: Record<HeardByOther, string> = {
  speech: 'hears them talk',
  music: 'hears music',
  ringing: 'hears ringing',
  nothing: 'hears nothing',
};

interface Done {
  readonly atMs: number;
  /** null: time passes. */
  readonly action: MoveAction | null;
}

/** After the answer: the call hung up, taken up elsewhere, sent on, transferred by keys, and what the caller hears. */
export function MovePart({
  index,
  call,
  trace,
  person,
}: {
  readonly index: EstateIndex;
  readonly call: Call;
  readonly trace: Trace;
  readonly person: Person;
}) {
  const palette = usePalette();
  const own = useMemo(() => settingsOf(index.estate.settings).move, [index]);
  const [heldMs, setHeld] = useState(own.heldMs);
  const [afterMs, setAfter] = useState(10_000);
  const [keys, setKeys] = useState('');
  const [done, setDone] = useState<readonly Done[]>([]);
  const begun = useMemo(
    () => beginMove(index, call, trace, { ...own, heldMs }),
    [index, call, trace, own, heldMs],
  );
  const move = useMemo(
    () =>
      begun &&
      done.reduce(
        (now, { atMs, action }) =>
          action ? actOn(now, begun.atMs + atMs, action) : waitFor(now, begun.atMs + atMs),
        begun,
      ),
    [begun, done],
  );
  if (!begun || !move) return null;
  const at = Math.max(move.atMs - begun.atMs, 0) + afterMs;
  const act = (action: MoveAction | null) => setDone([...done, { atMs: at, action }]);
  const { state } = move;
  const name = (id: string) => theEndpoint(index, id, person.id);
  const talking = state.kind === 'talking' ? state.endpoint : null;
  const isOutside = talking !== null && index.endpoints.get(talking)?.number !== null;
  return (
    <Section
      title="After the answer"
      aside={
        done.length > 0 ? (
          <Button kind="quiet" icon="undo" label="Undo" onPress={() => setDone(done.slice(0, -1))} />
        ) : null
      }
    >
      <View role="list" style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
        {move.steps.map((step, i) => (
          <View
            key={`${step.atMs}-${i}`}
            role="listitem"
            style={{
              flexDirection: 'row',
              gap: space(3),
              padding: space(2),
              borderTopWidth: i > 0 ? 1 : 0,
              borderColor: palette.line,
            }}
          >
            <Words mono size="small" style={{ width: 64, textAlign: 'right' }}>
              {seconds(step.atMs)}
            </Words>
            <View style={{ flex: 1 }}>
              <Words>{showNumbersIn(step.text)}</Words>
              <Words size="small" tone="soft">
                {`The caller ${HEARS[step.hears]}`}
              </Words>
            </View>
          </View>
        ))}
      </View>
      {state.kind === 'over' ? null : (
        <>
          <TimeField
            label="Next, after"
            value={afterMs}
            step={5000}
            onChange={(ms) => ms !== null && setAfter(ms)}
          />
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            {talking ? (
              <Button label={`Hang up ${name(talking)}`} onPress={() => act({ kind: 'hang-up' })} />
            ) : null}
            {state.kind === 'held'
              ? person.endpoints.map(({ id }) => (
                  <Button
                    key={id}
                    label={`Take up at ${name(id)}`}
                    onPress={() => act({ kind: 'take-up', endpoint: id })}
                  />
                ))
              : null}
            {talking
              ? person.endpoints
                  .filter(({ id }) => id !== talking)
                  .map(({ id }) => (
                    <Button
                      key={id}
                      label={`Send to ${name(id)}`}
                      onPress={() => act({ kind: 'send', to: id })}
                    />
                  ))
              : null}
            <Button label="Let the time pass" onPress={() => act(null)} />
            <Button label="The caller hangs up" onPress={() => act({ kind: 'caller-hangs-up' })} />
          </View>
          {isOutside ? (
            <View style={{ gap: space(2) }}>
              <Field
                label={`Keys at ${name(talking)}`}
                mono
                keyboard="phone-pad"
                value={keys}
                onChange={(text) => setKeys(text.replace(/[^\d*#A-D]/gi, ''))}
                hint={`${own.toDesk} sends it to the desk; ${own.transfer}, a number and # transfers it`}
              />
              <Button
                label="Press these keys"
                disabled={keys === ''}
                onPress={() => {
                  act({ kind: 'digits', digits: keys });
                  setKeys('');
                }}
              />
            </View>
          ) : null}
          <TimeField
            label="A call hung up is held for"
            value={heldMs}
            step={5000}
            onChange={(ms) => ms !== null && setHeld(ms)}
          />
        </>
      )}
    </Section>
  );
}
