-- Numbers that staff ring from outside to call on from there are objects of the estate like the rest.
ALTER TABLE estate_object
  MODIFY kind VARCHAR(12) NOT NULL
    CHECK (kind IN ('permission', 'trunk', 'schedule', 'status', 'group', 'menu', 'template', 'site', 'device', 'server', 'desk', 'seat', 'access'));
-- Which number shows on the calls that somebody places, by status.
ALTER TABLE person ADD COLUMN showing JSON NULL;
-- Calls out that go on by somebody's limit of a day: how long each may be at most, until its record is there.
CREATE TABLE call_grant (
  id VARCHAR(120) NOT NULL PRIMARY KEY,
  person_id VARCHAR(120) NOT NULL,
  at DATETIME(3) NOT NULL,
  most_ms INT UNSIGNED NOT NULL,
  money BIGINT UNSIGNED NOT NULL,
  -- The start of the server over which it goes: no call outlasts it.
  run BIGINT UNSIGNED NULL,
  KEY call_grant_person (person_id, at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
