-- The route table of the systems that are joined, as its object of the estate file but for its lists.
CREATE TABLE route_table (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  body JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  CONSTRAINT route_table_is_one CHECK (id = 1)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Lists of numbers that routes ask for. A list is written as a whole and read as a whole, so its numbers are one
-- value, a number on each line; the numbers before the last replacement are kept, so that it can be taken back.
CREATE TABLE route_list (
  id VARCHAR(120) NOT NULL PRIMARY KEY,
  position INT UNSIGNED NOT NULL,
  name VARCHAR(500) NOT NULL,
  numbers LONGTEXT NOT NULL,
  previous LONGTEXT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
