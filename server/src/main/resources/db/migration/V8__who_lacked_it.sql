-- The hosts that lacked the update when it was left to the rule (a serialized bitmap), so that those are told apart which came to carry it since.
alter table acknowledgement add column lacked_then varbinary(8000000);
