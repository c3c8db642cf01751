-- Seats of service groups are objects of the estate like the rest.
SET @@session.system_versioning_alter_history = KEEP;
ALTER TABLE estate_object
  MODIFY kind VARCHAR(12) NOT NULL
    CHECK (kind IN ('permission', 'trunk', 'schedule', 'status', 'group', 'menu', 'template', 'site', 'device', 'server', 'desk', 'seat'));
