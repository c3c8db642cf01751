import { useNamed } from './Search';
import { Choice, Skeleton } from '../kit/parts';

/** By which permission a group or menu dials out. */
export function PermissionChoice({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (permission: string) => void;
}) {
  const permissions = useNamed('permission');
  if (!permissions.data) return <Skeleton rows={1} />;
  return (
    <Choice
      label="Dials out by the permission"
      value={value}
      options={permissions.data.objects.map(({ id, name }) => ({ value: id, label: name }))}
      onChange={onChange}
    />
  );
}
