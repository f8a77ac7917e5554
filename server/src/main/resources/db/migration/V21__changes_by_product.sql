-- What changed on hosts is found by product: who had what on a past day is asked of an update, not of a host.
create table changed_build (
    number int generated always as identity primary key,
    build varchar(700) not null unique, -- as ProductBuild writes it
    product varchar(700) not null -- its package URL
);
insert into changed_build (build, product)
select build, left(build, locate(' ', build || ' ') - 1) from (select distinct build from product_change) order by build;
create index changed_build_product on changed_build (product);

alter table product_change rename to product_change_by_name;
drop index fact_change_host;
create table product_change (
    host int not null references host (number),
    build int not null,
    from_version varchar(100000), -- several side by side are written as one
    to_version varchar(100000),
    at timestamp(6) with time zone not null
);
insert into product_change (host, build, from_version, to_version, at)
select c.host, b.number, c.from_version, c.to_version, c.at from product_change_by_name c join changed_build b on b.build = c.build;
drop table product_change_by_name;
create index product_change_host on product_change (host, at);
create index product_change_build on product_change (build, at);
alter table product_change add foreign key (build) references changed_build (number);
