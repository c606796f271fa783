-- When an email was first seen to be opened: it counts once, however often it is looked at.
alter table message add opened_at timestamptz;
update message set opened_at = opened.at
from (select (details->>'message')::bigint message, min(at) at from activity where kind = 'emailOpened' group by 1) opened
where message.id = opened.message;
