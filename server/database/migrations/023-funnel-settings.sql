-- What holds for all pages of a funnel, and what is left to do for it.
alter table funnel
  add settings jsonb not null default '{}',
  -- The starter that it was made by; null for lines that were put together by hand, copied or imported.
  add starter text,
  -- A hash of what it wrote on each page and in each email: what differs from it somebody has written.
  add starter_words jsonb not null default '{}',
  -- Places that wait for the file that it gives away.
  add file_slots jsonb not null default '[]',
  -- Follow-ups that belong to it although nothing on its line starts them: they begin with a purchase, for instance.
  add followups bigint[] not null default '{}',
  -- While it is rehearsed: its pages that were drafts before, which nobody else may see yet.
  add rehearsal_pages bigint[] not null default '{}',
  -- Findings of its check that somebody has looked at and left as they are.
  add accepted jsonb not null default '[]',
  -- What its check found last while it was live, and when: Today says so.
  add faults integer not null default 0,
  add checked_at timestamptz;

-- How long a film is; null until somebody has looked, and where nobody can tell.
alter table file_version add seconds real;

-- The numbers of a line are read from the index alone.
drop index visit_of_page;
create index visit_of_page on visit (page_id, at) include (visitor, contact_id);
