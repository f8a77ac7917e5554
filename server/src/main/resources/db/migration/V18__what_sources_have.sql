-- What a host's package manager knows from the lists of its sources, as JSON: newer versions, and where installed ones came from.
alter table host add column lists clob;

-- What an advisory says must be restarted for one product alone; of all of them it stands in update_reading.
alter table update_reading_fix add column restart varchar(30);
