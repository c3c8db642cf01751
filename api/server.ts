/** One start of a server. Times ISO 8601, UTC. */
export interface ServerRun {
  readonly id: number;
  readonly host: string;
  readonly pid: number;
  readonly port: number;
  readonly version: string;
  readonly startedAt: string;
  readonly seenAt: string;
  /** `running`: heard of lately; `ended`: it said so; `lost`: it was not heard of any more. */
  readonly state: 'running' | 'ended' | 'lost';
  /** Whether it is the one that answers. */
  readonly isThis: boolean;
}

/** A piece of long work. */
export interface ServerJob {
  readonly kind: 'staff-import' | 'call-import' | 'round' | 'slate' | 'night';
  readonly name: string;
  readonly state: 'under-way' | 'waits' | 'failed';
  /** How far it has come, where that is known. */
  readonly done: number | null;
  readonly total: number | null;
  readonly at: string | null;
  readonly href: string;
}

/** Something that whoever runs the servers should see to. */
export interface ServerAlert {
  readonly kind: 'disk' | 'certificate' | 'job' | 'server' | 'clock' | 'database' | 'limit';
  readonly weight: 'fault' | 'risk';
  readonly says: string;
  readonly href: string | null;
}

export interface ServerPage {
  readonly servers: readonly ServerRun[];
  readonly jobs: readonly ServerJob[];
  readonly alerts: readonly ServerAlert[];
  readonly database: { readonly version: string; readonly roundTripMs: number };
  readonly memoryMib: number;
  readonly streams: number;
  /** Whether the phone system runs at this server or at another one of its machine; null: it does not run. */
  readonly phoneSystem: 'here' | 'elsewhere' | null;
  readonly registrations: number;
  readonly calls: number;
}
