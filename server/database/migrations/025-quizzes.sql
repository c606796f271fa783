-- Quizzes, which had a name only: what they hold, who takes them, and what comes of it.
alter table quiz
  add column path text,
  add column labels text[] not null default '{}',
  add column published_version integer,
  add column published_at timestamptz,
  add column published_by text,
  add column archived_at timestamptz;
update quiz set path = 'quiz-' || id;
alter table quiz alter column path set not null, add unique (path);

create table quiz_version (
  quiz_id bigint not null references quiz on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (quiz_id, number)
);
alter table quiz
  add foreign key (id, published_version) references quiz_version (quiz_id, number) deferrable initially deferred;

create table quiz_editor (
  quiz_id bigint not null references quiz on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (quiz_id, name)
);

-- Links that were copied before a path changed lead on.
create table quiz_former_path (
  path text primary key,
  quiz_id bigint not null references quiz on delete cascade
);

-- Somebody takes a quiz: begun with the first answer. Who does not say who they are stays unknown.
create table quiz_take (
  id bigint generated always as identity primary key,
  quiz_id bigint not null references quiz on delete cascade,
  -- Whoever has begun finishes the version that they began.
  version integer not null,
  token_hash bytea not null unique,
  contact_id bigint references contact on delete cascade,
  rehearsal boolean not null default false,
  -- Ids of answers, or what was typed, by the question.
  answers jsonb not null default '{}',
  source jsonb not null default '{}',
  began_at timestamptz not null,
  answered_at timestamptz not null,
  -- How many questions are still to be answered, and which comes next.
  to_go integer not null,
  next_question text,
  finished_at timestamptz,
  result text,
  points numeric,
  -- When it was known whose it is: what the quiz does was done then, if it was the first of theirs where one counts.
  known_at timestamptz,
  -- When an address was given; until it is confirmed nobody is known.
  addressed_at timestamptz,
  left_at timestamptz
);
create index quiz_take_of on quiz_take (quiz_id, began_at);
create index quiz_take_contact on quiz_take (contact_id, quiz_id) where contact_id is not null;
create index quiz_take_open on quiz_take (answered_at)
  where finished_at is null and left_at is null and contact_id is not null;

-- How many saw it without beginning, by day of the business.
create table quiz_seen (
  quiz_id bigint not null references quiz on delete cascade,
  day date not null,
  seen integer not null default 0,
  primary key (quiz_id, day)
);

-- A confirmation that waits for somebody's yes remembers the quiz by which they were asked.
alter table confirmation add column take_id bigint references quiz_take on delete set null;
