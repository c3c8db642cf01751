-- What was chosen once and is chosen again: how headings of a table from another system were matched.
CREATE TABLE remembered (
  name VARCHAR(80) NOT NULL PRIMARY KEY,
  body JSON NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
