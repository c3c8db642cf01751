-- The route table and its lists of numbers as they were at any moment, like the rest of the estate.
ALTER TABLE route_table ADD SYSTEM VERSIONING;
ALTER TABLE route_list ADD SYSTEM VERSIONING;
