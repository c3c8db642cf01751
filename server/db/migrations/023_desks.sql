-- Shared desks are objects of the estate like the rest; when people come to them stands with each person.
SET @@session.system_versioning_alter_history = KEEP;
ALTER TABLE estate_object
  MODIFY kind VARCHAR(12) NOT NULL
    CHECK (kind IN ('permission', 'trunk', 'schedule', 'status', 'group', 'menu', 'template', 'site', 'device', 'server', 'desk'));
ALTER TABLE person ADD COLUMN roster JSON NULL;
