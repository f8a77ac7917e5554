-- A dismissal is about one failure of a host, not about all that come later. Of an older one it is not known which was
-- meant: it is about what had happened by then.
alter table dismissed_failure add column code varchar(1000000);
alter table dismissed_failure add column failed_at timestamp(6) with time zone;
