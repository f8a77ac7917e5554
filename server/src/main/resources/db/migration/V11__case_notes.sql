-- What people write on a case for whoever looks at it next.
create table case_note (
    number bigint primary key,
    update_id varchar(500) not null,
    words varchar(4000) not null,
    author varchar(200) not null,
    created_at timestamp(6) with time zone not null,
    revoked_at timestamp(6) with time zone
);
create index case_note_of_update on case_note (update_id);
