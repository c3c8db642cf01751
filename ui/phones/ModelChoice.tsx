import { MODELS } from '../../core/devices/phones';
import { Choice, type ChoiceOption } from '../kit/parts';

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
      label="Model"
      titled
      value={value}
      options={[...more, ...MODELS.map(({ id, name }) => ({ value: id, label: name }))]}
      onChange={onChange}
    />
  );
}
