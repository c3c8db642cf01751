/** A migration as it was before it was changed after it had been applied somewhere, and what brings the difference. */
export interface OlderMigration {
  readonly number: number;
  /** SHA-256 of the older file, in hex. */
  readonly checksum: string;
  readonly mend: readonly string[];
}

const KEEP = 'SET @@session.system_versioning_alter_history = KEEP';

/** The only two; a migration that has landed is never changed again. */
export const OLDER: readonly OlderMigration[] = [
  {
    // Kinds were enumerations, whose numbers a foreign key compares instead of their names.
    number: 1,
    checksum: '9c16165190075c4d9a2dc6ca9412d10ef15429620959f2b6d849b17f8e35a38f',
    mend: [
      KEEP,
      'ALTER TABLE person DROP FOREIGN KEY IF EXISTS person_status, DROP FOREIGN KEY IF EXISTS person_permission',
      `ALTER TABLE estate_object MODIFY kind VARCHAR(12) NOT NULL
         CHECK (kind IN ('permission', 'trunk', 'schedule', 'status', 'group', 'menu', 'template', 'site', 'device'))`,
      `ALTER TABLE person
         MODIFY status_kind VARCHAR(12) NOT NULL DEFAULT 'status' CHECK (status_kind = 'status'),
         MODIFY permission_kind VARCHAR(12) NOT NULL DEFAULT 'permission' CHECK (permission_kind = 'permission')`,
      `ALTER TABLE person
         ADD CONSTRAINT person_status FOREIGN KEY (status_kind, status_id) REFERENCES estate_object (kind, id),
         ADD CONSTRAINT person_permission FOREIGN KEY (permission_kind, permission_id) REFERENCES estate_object (kind, id)`,
    ],
  },
  {
    // From which phone somebody places calls was not kept yet.
    number: 16,
    checksum: '96a2be19135efb3b6676d1630901a69edbfea7baed26c365d090be0fb4ffa730',
    mend: [KEEP, 'ALTER TABLE person ADD COLUMN IF NOT EXISTS places JSON NULL'],
  },
];
