-- Who is and was signed on to which seat, at which phone: state beside the estate.
CREATE TABLE seat_sign_on (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  seat VARCHAR(120) NOT NULL,
  person VARCHAR(120) NOT NULL,
  -- A phone of the estate, a number or a SIP address.
  phone JSON NOT NULL,
  since DATETIME(3) NOT NULL,
  paused_why VARCHAR(120) NULL,
  misses INT UNSIGNED NOT NULL DEFAULT 0,
  calls INT UNSIGNED NOT NULL DEFAULT 0,
  idle_since DATETIME(3) NOT NULL,
  wrap_until DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  why VARCHAR(20) NULL,
  -- Counted up by each change, so that of two at once one is done again.
  version INT UNSIGNED NOT NULL DEFAULT 1,
  open_seat VARCHAR(120) AS (IF(ended_at IS NULL, seat, NULL)) VIRTUAL,
  UNIQUE KEY one_at_a_seat (open_seat),
  KEY seat_sign_on_seat (seat, since),
  KEY seat_sign_on_person (person, since)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Every call that was offered to a seat.
CREATE TABLE seat_offer (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  seat VARCHAR(120) NOT NULL,
  person VARCHAR(120) NOT NULL,
  phone VARCHAR(250) NOT NULL,
  call_id VARCHAR(250) NOT NULL,
  offered_at DATETIME(3) NOT NULL,
  rang_ms INT UNSIGNED NULL,
  ended VARCHAR(24) NOT NULL,
  -- How long they talked; null: they did not, or still do.
  talked_ms BIGINT UNSIGNED NULL,
  UNIQUE KEY seat_offer_once (call_id, seat, offered_at),
  KEY seat_offer_seat (seat, offered_at),
  KEY seat_offer_at (offered_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
