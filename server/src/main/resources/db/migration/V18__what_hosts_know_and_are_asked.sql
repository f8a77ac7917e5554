-- What a host's package manager knows from the lists of its sources, a line each: newer versions, and where installed ones came from.
alter table host add column lists clob;

-- What an advisory says must be restarted for one product alone; of all of them it stands in update_reading.
alter table update_reading_fix add column restart varchar(30);

-- The last time that somebody asked a host to report at once, and what was its last report then, by its own clock.
create table host_ask (
  host            int primary key references host (number),
  asked_at        timestamp(6) with time zone not null,
  asked_by        varchar(255) not null,
  reported_before timestamp(6) with time zone not null
);
