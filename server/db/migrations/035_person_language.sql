-- What somebody reads at a phone, a tag of RFC 5646.
ALTER TABLE person ADD COLUMN language VARCHAR(35) NULL;
