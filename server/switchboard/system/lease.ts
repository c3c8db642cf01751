import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Db } from '../../db';

/** How often whoever runs the phone system says so, and after how long a silence it is taken for gone. */
export const SAY_MS = 2000;
const SILENCE_MS = 8000;

/** Who runs the phone system of a machine. */
export interface Holder {
  readonly pid: number;
  /** Where the others come in. */
  readonly port: number;
  readonly token: string;
  /** It has not said for long that it is there. */
  readonly isSilent: boolean;
}
export type Holding = Omit<Holder, 'isSilent'>;

const isTaken = (error: unknown): boolean =>
  ['ER_DUP_ENTRY', 'ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT'].includes(
    (error as { code?: string }).code ?? '',
  );

/** The turn of running the phone system of a machine, which one server at a time has. */
export const leaseOn = (db: Pick<Db, 'query' | 'execute'>, host: string) => ({
  /** Who has it; null: nobody. By the clock of the database. */
  holder: async (): Promise<Holder | null> => {
    const [[row]] = await db.query<RowDataPacket[]>(
      `SELECT pid, port, token, seen_at < UTC_TIMESTAMP(3) - INTERVAL ${SILENCE_MS / 1000} SECOND AS is_silent
       FROM phone_system WHERE host = ?`,
      [host],
    );
    return row
      ? {
          pid: Number(row.pid),
          port: Number(row.port),
          token: String(row.token),
          isSilent: Number(row.is_silent) === 1,
        }
      : null;
  },
  /** @param instead the token of the one that is gone; null: nobody had it. @returns whether it is had now */
  take: async ({ pid, port, token }: Holding, instead: string | null): Promise<boolean> => {
    try {
      const [{ affectedRows }] =
        instead === null
          ? await db.execute<ResultSetHeader>(
              `INSERT INTO phone_system (host, pid, port, token, seen_at)
               VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3))`,
              [host, pid, port, token],
            )
          : await db.execute<ResultSetHeader>(
              `UPDATE phone_system SET pid = ?, port = ?, token = ?, seen_at = UTC_TIMESTAMP(3)
               WHERE host = ? AND token = ?`,
              [pid, port, token, host, instead],
            );
      return affectedRows === 1;
    } catch (error) {
      // Another one was first.
      if (isTaken(error)) return false;
      throw error;
    }
  },
  /** Says that it is still had. @returns false: another one has it */
  keep: async (token: string): Promise<boolean> => {
    const [{ affectedRows }] = await db.execute<ResultSetHeader>(
      'UPDATE phone_system SET seen_at = UTC_TIMESTAMP(3) WHERE host = ? AND token = ?',
      [host, token],
    );
    return affectedRows === 1;
  },
  release: async (token: string): Promise<void> => {
    await db.execute('DELETE FROM phone_system WHERE host = ? AND token = ?', [host, token]);
  },
});
