-- What the gateway tells is kept with its event until it is done, by a look each second for all that came: a job and
-- commits of its own for each report would hold up the orders beside it.
alter table gateway_event add column content jsonb;
-- Null when it is done.
alter table gateway_event add column look_at timestamptz;
create index gateway_event_to_do on gateway_event (look_at) where look_at is not null;
