-- When a cart counts as left, and how many people get no email about it.
alter table business add column recovery jsonb not null default '{}';

-- Whose cart it was that was left: held out gets no email; null is of somebody who would have got none anyway.
alter table cart add column held_out boolean;
