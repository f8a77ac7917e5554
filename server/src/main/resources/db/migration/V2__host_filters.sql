-- What a person looks for among the hosts again and again: the parameters of the page's address.
create table host_filter (
  account varchar(100) not null references account (name) on delete cascade,
  name    varchar(100) not null,
  query   varchar(4000) not null,
  primary key (account, name)
);
