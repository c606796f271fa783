-- When a cart counts as left, and how many people get no email about it.
alter table business add column recovery jsonb not null default '{}';

-- On which side somebody stood who left their cart while some were held out; null is of all others, and of whoever would
-- have got no email anyway.
alter table cart add column held_out boolean;
