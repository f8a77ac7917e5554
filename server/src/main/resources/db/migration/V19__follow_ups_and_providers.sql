-- Who sees to a case on which a note was written, and the day on which it is looked at again.
alter table case_note add column assignee varchar(255);
alter table case_note add column look_again date;
create index case_note_of_assignee on case_note (assignee);

-- Who an account is at the provider of identities that vouches for people beside their passwords.
create table account_subject (
  account varchar(100) primary key references account (name) on delete cascade,
  issuer  varchar(500) not null,
  subject varchar(255) not null,
  unique (issuer, subject)
);
