import { MODELS } from '../../core/devices/phones';
import { Choice } from '../kit/parts';

/** One of the models of the catalogue. */
export function ModelChoice({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (model: string) => void;
}) {
  return (
    <Choice
      label="Model"
      titled
      value={value}
      options={MODELS.map(({ id, name }) => ({ value: id, label: name }))}
      onChange={onChange}
    />
  );
}
