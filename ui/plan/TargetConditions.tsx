import { View } from 'react-native';
import type { TargetPatch } from '../../core/editing';
import type { Endpoint, Person, RingTarget } from '../../core/estate';
import { space } from '../kit/theme';
import { Choice } from '../kit/parts';
import { Words } from '../kit/Words';
import { ARRIVAL_OPTIONS, Several } from './Several';

/** From these scores on an app is to ring; what each means stands beside it. */
const SCORES = [
  { value: 'any', label: 'However it sounds' },
  { value: '3.6', label: 'MOS 3.6: most are content' },
  { value: '4', label: 'MOS 4.0: nearly everybody is' },
] as const;

/** Which other phone must or must not be registered. */
function Registration({
  target,
  others,
  onChange,
}: {
  readonly target: RingTarget;
  readonly others: readonly Endpoint[];
  readonly onChange: (patch: TargetPatch) => void;
}) {
  const value = target.whileRegistered
    ? `while:${target.whileRegistered}`
    : target.unlessRegistered
      ? `unless:${target.unlessRegistered}`
      : 'always';
  return (
    <Choice
      titled
      label="Only by whether another phone is registered"
      value={value}
      options={[
        { value: 'always', label: 'Whatever is registered' },
        ...others.flatMap(({ id, label }) => [
          { value: `while:${id}`, label: `While ${label} is` },
          { value: `unless:${id}`, label: `While ${label} is not` },
        ]),
      ]}
      onChange={(next) => {
        const id = next.slice(next.indexOf(':') + 1);
        onChange({
          whileRegistered: next.startsWith('while:') ? id : undefined,
          unlessRegistered: next.startsWith('unless:') ? id : undefined,
        });
      }}
    />
  );
}

/** The conditions under which a phone is rung in its step; those that are not set do not matter. */
export function TargetConditions({
  target,
  endpoint,
  person,
  onChange,
}: {
  readonly target: RingTarget;
  readonly endpoint: Endpoint;
  readonly person: Person;
  readonly onChange: (patch: TargetPatch) => void;
}) {
  const others = person.endpoints.filter(({ id, number }) => id !== endpoint.id && number === undefined);
  const isApp = endpoint.kind === 'mobile-app' || endpoint.kind === 'desktop-app';
  const score = target.onlyQuality === undefined ? 'any' : String(target.onlyQuality);
  return (
    <View style={{ gap: space(3) }}>
      <Several
        label="Only calls that came"
        value={target.arrivals}
        options={ARRIVAL_OPTIONS}
        onChange={(arrivals) => onChange({ arrivals })}
      />
      {others.length > 0 || target.whileRegistered || target.unlessRegistered ? (
        <Registration target={target} others={others} onChange={onChange} />
      ) : null}
      {isApp ? (
        <View style={{ gap: space(1) }}>
          <Choice
            titled
            label="Only where its line is good enough"
            value={score}
            options={[
              ...SCORES,
              ...(SCORES.some(({ value }) => value === score)
                ? []
                : [{ value: score, label: `MOS ${score}` }]),
            ]}
            onChange={(next) => onChange({ onlyQuality: next === 'any' ? undefined : Number(next) })}
          />
          {target.onlyQuality === undefined ? null : (
            <Words size="small" tone="soft">
              {endpoint.path?.site === undefined
                ? 'Nobody has said at which site this app is used: it rings until then.'
                : 'What was measured last at its site counts, not the line at the moment of the call. One never measured rings.'}
            </Words>
          )}
        </View>
      ) : null}
    </View>
  );
}
