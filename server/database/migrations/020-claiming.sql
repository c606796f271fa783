-- Written with `is true`, as the claim is: with statistics from before a broadcast the planner takes every index of queued
-- messages for equally short, and read all 100,000 of them by the index of states: 168 ms a claim instead of 3.
drop index message_due;
create index message_due on message (priority, due_at, id) where (state = 'queued') is true;
