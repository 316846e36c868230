-- What an export was made of when it was asked for: where that is another by the time of its turn, it says so and stops.
ALTER TABLE exports ADD COLUMN pin TEXT NOT NULL DEFAULT '';
