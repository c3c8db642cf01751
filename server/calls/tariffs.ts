import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { TariffRow } from '../../api/records';
import { decodeText, readTariff } from '../../core/formats';
import type { Tariff } from '../../core/records';
import { inTransaction, type Db } from '../db';
import { refusal } from '../base';
import type { SignedIn } from '../http';
import { addRecord } from '../record';

const MOST_TARIFFS = 50;
const MOST_NAME = 120;

/** What was read last: tariffs are never changed, only added and removed. */
const read = new Map<string, Tariff>();
const MOST_READ = 4;

/** A tariff as calls are priced by it. @throws a refusal where there is none */
export async function tariffOf(
  db: Db,
  text: string | null,
): Promise<{ readonly id: number; readonly tariff: Tariff }> {
  const id = text === null ? null : Number(text);
  if (id !== null && !Number.isSafeInteger(id)) throw refusal(404, 'There is no such tariff.');
  const [[row]] = await db.query<RowDataPacket[]>(
    `SELECT id, currency, source, at FROM tariff WHERE ${id === null ? '1 = 1' : 'id = ?'} ORDER BY id DESC LIMIT 1`,
    id === null ? [] : [id],
  );
  if (!row) throw refusal(404, id === null ? 'There is no tariff yet.' : 'There is no such tariff.');
  const key = `${String(row.id)} ${(row.at as Date).getTime()} ${String(row.source).length}`;
  const known = read.get(key);
  if (known) return { id: Number(row.id), tariff: known };
  const found = readTariff(String(row.source), String(row.currency));
  if (!found.ok) throw refusal(500, 'This tariff cannot be read any more.');
  read.set(key, found.tariff);
  while (read.size > MOST_READ) read.delete([...read.keys()][0]!);
  return { id: Number(row.id), tariff: found.tariff };
}

export async function tariffRows(db: Db): Promise<readonly TariffRow[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT id, name, currency, who, at, LENGTH(source) - LENGTH(REPLACE(source, "\\n", "")) AS n FROM tariff ORDER BY id DESC',
  );
  return rows.map((row) => ({
    id: Number(row.id),
    name: String(row.name),
    currency: String(row.currency),
    lines: Math.max(0, Number(row.n)),
    who: String(row.who),
    at: (row.at as Date).toISOString(),
  }));
}

/** Adds a tariff from the bytes of a CSV file: all of it, or nothing and what is wrong by line and column. */
export async function addTariff({ services, account, body, query }: SignedIn) {
  if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The file is empty.');
  const currency = (query.currency ?? 'CAD').toUpperCase();
  if (!/^[A-Z]{3}$/.test(currency))
    throw refusal(400, 'A currency is three letters of ISO 4217, such as CAD.');
  const text = decodeText(body);
  if (!text.ok) throw refusal(400, text.fault.message);
  const found = readTariff(text.text, currency);
  if (!found.ok)
    throw refusal(400, 'The tariff was not taken: see what is wrong.', {
      faults: found.faults.slice(0, 50).map(({ line, column, message }) => ({
        path: `line ${line}, column ${column}`,
        message,
      })),
    });
  const name = (query.name ?? '').trim().slice(0, MOST_NAME) || 'Tariff';
  const { db, now } = services;
  const id = await inTransaction(db, async (tx) => {
    const [[row]] = await tx.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM tariff FOR UPDATE');
    if (Number(row?.n) >= MOST_TARIFFS)
      throw refusal(409, `There are ${MOST_TARIFFS} tariffs already. Remove one first.`);
    const [{ insertId }] = await tx.execute<ResultSetHeader>(
      'INSERT INTO tariff (name, currency, source, who, at) VALUES (?, ?, ?, ?, ?)',
      [name, found.tariff.currency, text.text, account.name, now()],
    );
    await addRecord(tx, {
      who: account.name,
      kind: 'tariff-added',
      subject: name,
      detail: `${found.tariff.lines.length} prefixes`,
    });
    return insertId;
  });
  return { status: 201, body: { id } };
}

export async function removeTariff({ services, account, params }: SignedIn) {
  const id = Number(params.id);
  if (!Number.isSafeInteger(id)) throw refusal(404, 'There is no such tariff.');
  await inTransaction(services.db, async (tx) => {
    const [[row]] = await tx.query<RowDataPacket[]>('SELECT name FROM tariff WHERE id = ? FOR UPDATE', [id]);
    if (!row) throw refusal(404, 'There is no such tariff.');
    await tx.execute('DELETE FROM tariff WHERE id = ?', [id]);
    await addRecord(tx, { who: account.name, kind: 'tariff-removed', subject: String(row.name) });
  });
  return { status: 204 };
}
