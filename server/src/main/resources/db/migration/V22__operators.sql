-- What operators said of what they are to install: the agreed slot, or that it is done.
create table operator_entry (
    number bigint primary key,
    update_id varchar(500) not null,
    revision varchar(500) not null,
    hosts blob not null, -- a bitmap of host numbers
    slot_from timestamp(6) with time zone, -- none: it is done
    slot_until timestamp(6) with time zone,
    words varchar(2000) not null,
    author varchar(200) not null,
    said_at timestamp(6) with time zone not null,
    taken_back_at timestamp(6) with time zone
);
