import type { RowDataPacket } from 'mysql2/promise';
import { NEWS_TOPICS, type NewsTopic } from '../../api/news';
import type { Db } from '../db';

/** How often the database is asked what has changed while anybody listens: well within a second on every server. */
const ASK_EVERY_MS = 400;

/**
 * What changed in the database, whichever server wrote it: asked for by one small statement while anybody listens,
 * and not at all otherwise.
 */
export interface News {
  /** @returns stops hearing */
  readonly subscribe: (hear: (topics: readonly NewsTopic[]) => void) => () => void;
  readonly close: () => void;
}

/** A mark for each topic that is another one after each change. */
const MARKS: Readonly<Record<NewsTopic, string>> = {
  estate: "SELECT CONCAT(revision, '/', structure_revision) FROM organisation LIMIT 1",
  routing: "SELECT CONCAT(COUNT(*), '/', COALESCE(SUM(version), 0)) FROM route_table",
  record: 'SELECT COALESCE(MAX(id), 0) FROM record_entry',
  slates: "SELECT CONCAT(COUNT(*), '/', COALESCE(SUM(version), 0)) FROM slate",
};
const STATEMENT = `SELECT ${NEWS_TOPICS.map((topic) => `(${MARKS[topic]}) AS ${topic}`).join(', ')}`;

export function openNews(db: Pick<Db, 'query'>, everyMs = ASK_EVERY_MS): News {
  const listeners = new Set<(topics: readonly NewsTopic[]) => void>();
  let known: Readonly<Record<string, string>> | null = null;
  let timer: ReturnType<typeof setTimeout> | null = null;
  let isOver = false;

  async function look(): Promise<void> {
    const [[row]] = await db.query<RowDataPacket[]>(STATEMENT);
    const now = Object.fromEntries(NEWS_TOPICS.map((topic) => [topic, String(row?.[topic])]));
    const before = known;
    known = now;
    if (!before) return;
    const changed = NEWS_TOPICS.filter((topic) => before[topic] !== now[topic]);
    if (changed.length > 0) for (const hear of [...listeners]) hear(changed);
  }
  const again = () => {
    timer = null;
    if (isOver || listeners.size === 0) {
      // Whoever comes next has read what is there by then.
      known = null;
      return;
    }
    void look()
      // The database does not answer now: what changed meanwhile is told once it does.
      .catch(() => undefined)
      .finally(() => {
        timer ??= setTimeout(again, everyMs);
      });
  };
  return {
    subscribe: (hear) => {
      listeners.add(hear);
      timer ??= setTimeout(again, 0);
      return () => listeners.delete(hear);
    },
    close: () => {
      isOver = true;
      listeners.clear();
      if (timer) clearTimeout(timer);
    },
  };
}
