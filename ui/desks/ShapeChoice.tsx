import { Choice } from '../kit/parts';

export type DeskShape = 'list' | 'plan';

/** Whether desks are shown one below the other, or from above. */
export const ShapeChoice = ({
  value,
  onChange,
}: {
  readonly value: DeskShape;
  readonly onChange: (shape: DeskShape) => void;
}) => (
  <Choice
    label="Shown as"
    value={value}
    options={[
      { value: 'list', label: 'List' },
      { value: 'plan', label: 'Plan' },
    ]}
    onChange={onChange}
  />
);
