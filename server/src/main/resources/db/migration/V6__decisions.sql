-- An answer is for populations, and comes back on a day where the rule never offers the update. Older answers are for all populations, and come back after 30 days.
alter table rule_answer add column look_again timestamp(6) with time zone;
update rule_answer set look_again = dateadd(day, 30, given);

create table rule_answer_population (
  answer     bigint not null references rule_answer (number),
  population varchar(200) not null,
  primary key (answer, population)
);

-- A force stands until every host carries the update. Older ones ended with their due day: those that are past it stay ended.
alter table verdict add column lapsed timestamp(6) with time zone;
update verdict set lapsed = ends where type = 'FORCE' and ends <= current_timestamp;

alter table verdict alter column overrides set data type varchar(100000);
alter table verdict alter column overridden_exceptions set data type varchar(100000);

-- What offers an update that contains a withheld one must name what it goes over. Older ones went over all that were there.
update verdict v set overrides = concat_ws(',', nullif(overrides, ''), (
  select listagg(b.number, ',') within group (order by b.number) from verdict b where b.number < v.number and b.update_id <> v.update_id and b.type <> 'FORCE'))
where type <> 'BLOCK';
update verdict v set overridden_exceptions = concat_ws(',', nullif(overridden_exceptions, ''), (
  select listagg(e.number, ',') within group (order by e.number) from exception_grant e
  where e.made <= v.handed_down and e.scope_type = 'UPDATE' and e.scope <> v.update_id))
where type <> 'BLOCK';

create index verdict_update on verdict (update_id);
create index rule_answer_update on rule_answer (update_id);
