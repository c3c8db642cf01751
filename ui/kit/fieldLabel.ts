import { capital, fieldsAt, type FieldsKind } from '../../core/estate';

/**
 * What the field of a setting is called in an editor: as the record, slates and work orders call it, from the one table
 * of fields.
 * @param path of the setting within its kind of thing, without ids, such as `plan.otherwise.stages.ring.delayMs`
 * @throws where there is no such setting: a test goes through all of them
 */
export function fieldLabel(kind: FieldsKind, path: string): string {
  const says = fieldsAt(path, kind).at(-1)?.says;
  if (says === undefined) throw new Error(`${kind} has no setting ${path}`);
  return capital(says);
}
