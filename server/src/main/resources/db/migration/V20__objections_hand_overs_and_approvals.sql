-- An objection to a force that goes over an exception; and a case that was given to somebody else, which goes on as a note of its own.
alter table case_note add column objects_to bigint; -- number of the force
alter table case_note add column for_exception bigint; -- number of the exception that it goes over
alter table case_note add column goes_on_from bigint;

-- That an exception has lapsed is written into the record once.
alter table exception_grant add column lapse_told boolean default false not null;
update exception_grant set lapse_told = true where ends <= current_timestamp;

-- Exceptions can need an approver too.
alter table exception_grant add column approver varchar(200);
alter table proposal add column about varchar(20) default 'VERDICT' not null;
