-- The record as it was written up to a moment is found without going through all that was written since.
ALTER TABLE record_entry ADD KEY record_by_time (at);
