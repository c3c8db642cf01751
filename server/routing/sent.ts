import { decodeText, type NumberListFile } from '../../core/formats';
import type { NumberList } from '../../core/estate';
import { notRight, refusal } from '../base';
import type { SignedIn } from '../http';
import { readListInPool } from './pool';

/** A list as an estate has it, without what the database keeps beside it. */
export const bareList = ({ id, name, numbers }: NumberList): NumberList => ({ id, name, numbers });

/** A list file that was sent, read beside the server. */
export async function sentList({ services, body, query }: SignedIn): Promise<NumberListFile> {
  if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The file is empty.');
  const decoded = decodeText(body, query.readAs === 'latin-1' ? 'latin-1' : undefined);
  if (!decoded.ok) throw refusal(400, 'This file cannot be read.', { extra: { placed: [decoded.fault] } });
  const { estate } = await services.store.current();
  const read = await readListInPool({
    text: decoded.text,
    dialling: estate.dialling,
    field: query.field,
  });
  if (!read.ok) throw refusal(400, 'This file cannot be read.', { extra: { placed: read.faults } });
  return read.list;
}

/** The id and name of the list that a file is for. */
export function namedList({ params, query }: SignedIn): { readonly id: string; readonly name: string } {
  const [id, name] = [params.id ?? '', (query.name ?? '').trim()];
  if (id === '' || name === '' || name.length > 200)
    throw notRight([{ path: 'name', message: 'is missing' }]);
  return { id, name };
}
