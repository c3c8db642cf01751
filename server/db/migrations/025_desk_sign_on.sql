-- Who is and was signed on at which shared desk: state beside the estate, without its lock and its revision.
CREATE TABLE desk_sign_on (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  desk VARCHAR(120) NOT NULL,
  person VARCHAR(120) NOT NULL,
  -- Where the desk stood then.
  site VARCHAR(120) NULL,
  since DATETIME(3) NOT NULL,
  how VARCHAR(20) NOT NULL,
  -- The last call or key at the phone.
  used_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  why VARCHAR(20) NULL,
  -- One at a desk, and one desk of a person, at a time: whichever server writes.
  open_desk VARCHAR(120) AS (IF(ended_at IS NULL, desk, NULL)) VIRTUAL,
  open_person VARCHAR(120) AS (IF(ended_at IS NULL, person, NULL)) VIRTUAL,
  UNIQUE KEY one_at_a_desk (open_desk),
  UNIQUE KEY one_desk_each (open_person),
  KEY desk_sign_on_desk (desk, since),
  KEY desk_sign_on_person (person, since),
  KEY desk_sign_on_ended (ended_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What phones kept before: whoever was signed on at a desk stays so.
INSERT IGNORE INTO desk_sign_on (desk, person, site, since, how, used_at)
SELECT desk.id, JSON_VALUE(device.body, '$.signedOn.person'), JSON_VALUE(device.body, '$.site'), UTC_TIMESTAMP(3), 'by-code', UTC_TIMESTAMP(3)
FROM estate_object AS desk
JOIN estate_object AS device ON device.kind = 'device' AND device.id = JSON_VALUE(desk.body, '$.device')
WHERE desk.kind = 'desk' AND JSON_VALUE(device.body, '$.signedOn.person') IS NOT NULL;

-- Badge numbers, of which only a mark is kept: it is told again by a key that lies outside the database.
CREATE TABLE badge (
  person VARCHAR(120) NOT NULL PRIMARY KEY,
  mark BINARY(32) NOT NULL,
  set_at DATETIME(3) NOT NULL,
  set_by VARCHAR(120) NOT NULL,
  UNIQUE KEY badge_mark (mark)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
