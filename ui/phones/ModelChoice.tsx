import { MODELS } from '../../core/devices/phones';
import { Choice, type ChoiceOption } from '../kit/parts';
import { fieldLabel } from '../kit/fieldLabel';

/** One of the models of the catalogue. */
export function ModelChoice({
  value,
  onChange,
  more = [],
}: {
  readonly value: string;
  readonly onChange: (model: string) => void;
  /** What can be chosen in the place of a model. */
  readonly more?: readonly ChoiceOption<string>[];
}) {
  return (
    <Choice
      label={fieldLabel('device', 'model')}
      titled
      value={value}
      options={[...more, ...MODELS.map(({ id, name }) => ({ value: id, label: name }))]}
      onChange={onChange}
    />
  );
}
