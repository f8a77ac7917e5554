-- What a host must have to take an update, as its notice says: a product at a version or later, or a trait.
create table update_reading_requirement (
    reading bigint not null references update_reading (number) on delete cascade,
    position int not null,
    product varchar(1000000), -- none: it is about a trait
    at_least_version varchar(1000000),
    trait varchar(1000000),
    at_least double precision,
    one_of varchar(1000000), -- texts, one a line; none where a number counts
    primary key (reading, position)
);
