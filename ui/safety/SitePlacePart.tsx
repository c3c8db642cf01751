import { isCidr, type Site } from '../../core/estate';
import { useObjects } from '../data/objects';
import { Choice, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { CheckedField } from '../networks/CheckedField';
import { CivicFields } from './CivicFields';

const readRanges = (text: string): { readonly value: readonly string[] } | { readonly error: string } => {
  const ranges = text.split(/[\s,;]+/).filter(Boolean);
  const wrong = ranges.find((each) => !isCidr(each));
  return wrong === undefined ? { value: ranges } : { error: `${wrong} is no range such as 203.0.113.0/24` };
};
const NONE = '';

/** What a site tells of itself in an emergency. */
export function SitePlacePart({
  site,
  onEdit,
}: {
  readonly site: Site;
  readonly onEdit: (change: (before: Site) => Site) => void;
}) {
  const trunks = useObjects<{ readonly id: string; readonly name: string }>('trunk');
  return (
    <Section title="In an emergency">
      <Words tone="soft">
        Where phones that stand here are; the area of a shared desk is added. Calls do not carry it yet.
      </Words>
      <CivicFields
        civic={site.civic ?? {}}
        onChange={(civic) =>
          onEdit(({ civic: _before, ...rest }) => (Object.keys(civic).length > 0 ? { ...rest, civic } : rest))
        }
      />
      <Choice
        label="Trunk that reaches the emergency services of its place"
        titled
        value={site.emergencyTrunk ?? NONE}
        options={[
          { value: NONE, label: 'Any' },
          ...(trunks.data?.objects ?? []).map(({ id, name }) => ({ value: id, label: name })),
        ]}
        onChange={(trunk) =>
          onEdit(({ emergencyTrunk: _before, ...rest }) =>
            trunk === NONE ? rest : { ...rest, emergencyTrunk: trunk },
          )
        }
      />
      <CheckedField
        label="Its own outside addresses, as ranges"
        value={site.addressRanges ?? []}
        show={(ranges) => ranges.join(', ')}
        read={readRanges}
        onChange={(ranges) =>
          onEdit(({ addressRanges: _before, ...rest }) =>
            ranges.length > 0 ? { ...rest, addressRanges: ranges } : rest,
          )
        }
        hint="A softphone that is registered from one of them is taken to be here"
      />
    </Section>
  );
}
