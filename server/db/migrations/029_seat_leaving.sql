-- Somebody who is signed off from a seat once its call has ended, and who sits there then: JSON { why, who, next }.
ALTER TABLE seat_sign_on ADD COLUMN leaving JSON NULL;
