-- Who may see the lessons of a course, and what others get.
alter table course
  add column description text not null default '',
  add column access jsonb not null default '{"for": "everybody"}',
  add column others jsonb not null default '{"to": "nowhere"}';

-- What is known of who takes a course beyond the lessons that they saw.
create table course_learner (
  course_id bigint not null references course on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  bought_at timestamptz,
  finished_at timestamptz,
  primary key (course_id, contact_id)
);
create index course_learner_of_contact on course_learner (contact_id);

-- Asked for by whoever typed an address: nobody gets many.
create table buyer_link (
  id bigint generated always as identity primary key,
  contact_id bigint not null references contact on delete cascade,
  asked_at timestamptz not null
);
create index buyer_link_of_contact on buyer_link (contact_id, asked_at);

-- A subscription that rests for a while.
alter table customer_order add column paused_until timestamptz;
