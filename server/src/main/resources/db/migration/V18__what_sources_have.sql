-- What a host's package manager knows from the lists of its sources, as JSON: newer versions, and where installed ones came from.
alter table host add column lists clob;
