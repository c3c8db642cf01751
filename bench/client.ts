import type { ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import autocannon from 'autocannon';

export const PASSWORD = 'for the bench only';

/** The memory that a process has of the machine, in MiB. */
export const memoryOf = (child: ChildProcess): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

/** The CPU that a process has had since it began, in ms, by the kernel's ticks of 10 ms. */
export function cpuOf(child: ChildProcess): number {
  const stat = readFileSync(`/proc/${child.pid}/stat`, 'utf8');
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  return 10 * (Number(fields[11]) + Number(fields[12]));
}

/** How soon a page is answered that is asked for 100 times a second, for 10 s: ms within which so many of 100 are. */
export async function latencyOf(url: string, cookie: string) {
  const { latency, non2xx, errors } = await autocannon({
    url,
    headers: { cookie },
    connections: 10,
    overallRate: 100,
    duration: 10,
  });
  const { p50, p97_5, p99 } = latency;
  const p95 = (latency as unknown as Record<string, number>).p95 ?? p97_5;
  // 95 of 100 is no more than 97.5 of 100.
  return { p50, p95: Math.max(p95, p97_5), p99, failed: non2xx + errors };
}

export class Client {
  #cookie = '';
  constructor(readonly url: string) {}
  get cookie(): string {
    return this.#cookie;
  }
  async signIn(): Promise<void> {
    const answer = await fetch(`${this.url}/api/session`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: this.url },
      body: JSON.stringify({ name: 'specialist', password: PASSWORD }),
    });
    this.#cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  }
  async ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    const isText = typeof body === 'string';
    const answer = await fetch(this.url + path, {
      method,
      headers: {
        Cookie: this.#cookie,
        Origin: this.url,
        ...(body === undefined || isText ? {} : { 'Content-Type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: isText ? body : JSON.stringify(body) }),
    });
    if (!answer.ok)
      throw new Error(`${method} ${path}: ${answer.status} ${(await answer.text()).slice(0, 300)}`);
    return (await answer.json()) as T;
  }
}
