-- What people measured of the lines that they are on, from their own page. Nothing private is kept of an address.
CREATE TABLE line_check (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  measured_at DATETIME(3) NOT NULL,
  person VARCHAR(120) NOT NULL,
  -- Where it was: a site, or a place in words.
  site VARCHAR(120) NULL,
  place VARCHAR(80) NULL,
  body JSON NOT NULL,
  -- The quarter of a minute that it was in: of two at once one is kept.
  slot BIGINT UNSIGNED NOT NULL,
  UNIQUE KEY line_check_once (person, slot),
  KEY line_check_at (measured_at),
  KEY line_check_person (person, measured_at),
  KEY line_check_site (site, measured_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
