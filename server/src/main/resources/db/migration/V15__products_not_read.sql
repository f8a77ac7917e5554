-- What of an advisory could not be read, and what it says beside its summary.
create table update_reading_unread (
    reading bigint not null references update_reading (number) on delete cascade,
    position integer not null,
    vendor varchar(1000000) not null,
    name varchar(1000000) not null,
    names varchar(1000000) not null, -- one a line, the nearest first
    cpe varchar(1000000),
    place varchar(1000000) not null,
    reason varchar(1000000) not null,
    primary key (reading, position)
);
create table update_reading_note (
    reading bigint not null references update_reading (number) on delete cascade,
    position integer not null,
    about varchar(1000000) not null, -- a vulnerability; empty: the whole advisory
    title varchar(1000000) not null,
    words varchar(1000000) not null,
    primary key (reading, position)
);

-- What the product names of vendors mean here.
create table product_mapping (
    number bigint primary key,
    vendor varchar(500) not null,
    how varchar(20) not null,
    pattern varchar(1000) not null,
    purl varchar(1000), -- null: no host here has it
    reason varchar(2000) not null,
    author varchar(200) not null,
    created_at timestamp(9) with time zone not null,
    revoked_by varchar(200),
    revoked_at timestamp(9) with time zone
);

-- The source package that a package was built from, where it is another.
alter table product_version add column source varchar(500);
alter table product_version add column source_version varchar(1000);
