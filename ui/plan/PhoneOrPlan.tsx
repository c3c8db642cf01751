import { useMemo } from 'react';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import { mergeSlices } from '../../core/editing';
import type { Estate, Person, Treatment } from '../../core/estate';
import { ANY_OUTSIDE_CALLER, compileEstate, shortName } from '../../core/calls/engine';
import { tryCall } from '../../core/calls/views';
import { isoIn } from '../../core/calls/time';
import { RingStrip } from '../drawings/RingStrip';
import { useMet } from '../data/met';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/**
 * Two things that people take for one, drawn one below the other for a call of now that nobody answers: a colleague's
 * phone as a part of one's own plan, and the colleague's own plan.
 */
export function PhoneOrPlan({
  owner,
  estate,
  colleague,
}: {
  readonly owner: Person;
  readonly estate: Estate;
  readonly colleague: Person;
}) {
  const palette = usePalette();
  const met = useMet((state) => state.part);
  const [phone] = colleague.endpoints;
  const ways = useMemo(() => {
    const whole = mergeSlices(estate, met);
    const line = owner.lines[0];
    if (!line || !phone) return [];
    const drawn = (otherwise: Treatment) => {
      const asIf: Person = {
        ...owner,
        lines: [{ id: line.id, extension: line.extension, numbers: line.numbers }],
        plan: { rules: [], otherwise },
      };
      const people = whole.people.map((each) => (each.id === owner.id ? asIf : each));
      const call = {
        from: ANY_OUTSIDE_CALLER,
        to: line.extension,
        at: isoIn(Date.now(), estate.timeZone),
      };
      return tryCall(compileEstate({ ...whole, people }), call, owner.id);
    };
    const name = shortName(colleague.name);
    return [
      {
        title: `${name}’s phone, as a part of this plan`,
        tried: drawn({
          stages: [{ ring: [{ endpoint: phone.id }], forMs: 20_000 }],
          ending: { kind: 'mailbox' },
        }),
      },
      {
        title: `${name}’s own plan`,
        tried: drawn({ stages: [], ending: { kind: 'person', person: colleague.id } }),
      },
    ];
  }, [estate, met, owner, colleague, phone]);
  return (
    <View style={{ gap: space(2) }}>
      {ways.map(({ title, tried }) => (
        <View
          key={title}
          style={{
            borderWidth: 1,
            borderColor: palette.line,
            backgroundColor: palette.sheet,
            paddingVertical: space(2),
          }}
        >
          <Words strong size="small" style={{ paddingHorizontal: space(4) }}>
            {title}
          </Words>
          {tried ? (
            <>
              <RingStrip strip={tried.strip} bare />
              <Words size="small" tone="soft" style={{ paddingHorizontal: space(4) }}>
                {`Nobody answers: ${showNumbersIn(tried.strip.ending)}`}
              </Words>
            </>
          ) : null}
        </View>
      ))}
    </View>
  );
}
