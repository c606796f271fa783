-- An email sent to many at once, by hand.
create table broadcast (
  id bigint generated always as identity primary key,
  email_id bigint not null references email,
  topic_id bigint references topic,
  -- For whom it was meant, as one reads it aloud: what that speaks of may change later.
  sentence text not null,
  by text not null,
  work_id bigint references long_work,
  -- Who was meant and did not get it: [{"reason": "the person is unsubscribed", "people": 12}].
  left_out jsonb,
  created_at timestamptz not null,
  stopped_by text
);

alter table message
  add broadcast_id bigint references broadcast,
  -- What it is about: somebody who has left the topic meanwhile does not get it.
  add topic_id bigint references topic;
create index message_of_broadcast on message (broadcast_id) where broadcast_id is not null;
create index message_of_email on message (email_id, contact_id);
