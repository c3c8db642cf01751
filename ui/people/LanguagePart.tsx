import type { Person } from '../../core/estate';
import { MODELS } from '../../core/devices/phones';
import { languageName } from '../../core/devices/provisioning';
import { Choice, Section } from '../kit/parts';
import { Words } from '../kit/Words';

const NONE = 'none';
const SPOKEN = [...new Set(MODELS.flatMap(({ languages }) => languages))];

/** The language that somebody reads at a phone: their own one, and whichever shared desk they sign on to. */
export function LanguagePart({
  person,
  onEdit,
}: {
  readonly person: Person;
  readonly onEdit: ((change: (before: Person) => Person) => void) | null;
}) {
  const { language } = person;
  const spoken = language === undefined || SPOKEN.includes(language) ? SPOKEN : [...SPOKEN, language];
  const byName = spoken
    .map((value) => ({ value, label: languageName(value) }))
    .sort((a, b) => a.label.localeCompare(b.label, 'en'));
  return (
    <Section title="Language at phones">
      <Words tone="soft">
        What phones that are provisioned from here show: their own, and a shared desk’s while they sit there.
        A model that does not speak it stays as it is.
      </Words>
      {onEdit ? (
        <Choice
          label="Language"
          value={language ?? NONE}
          options={[{ value: NONE, label: 'The phone’s own' }, ...byName]}
          onChange={(value) =>
            onEdit(({ language: _before, plan, ...rest }) => ({
              ...rest,
              ...(value === NONE ? {} : { language: value }),
              plan,
            }))
          }
        />
      ) : (
        <Words>{language === undefined ? 'The phone’s own' : languageName(language)}</Words>
      )}
    </Section>
  );
}
