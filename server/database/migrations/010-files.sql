-- Files lie in pieces, so that they are streamed in and out, and have versions.
create table stored_file (
  key text primary key,
  created_at timestamptz not null
);

create table file_piece (
  key text not null references stored_file on delete cascade,
  n integer not null,
  data bytea not null,
  primary key (key, n)
);
alter table file_piece alter data set storage external;

create table file_version (
  file_id bigint not null references file on delete cascade,
  number integer not null,
  -- Where the store of files has it.
  key text not null unique,
  name text not null,
  media_type text not null,
  size bigint not null,
  -- A small picture of it (JPEG).
  preview bytea,
  made_at timestamptz not null,
  made_by text not null,
  primary key (file_id, number)
);

alter table file
  add version integer,
  -- A link is good for so many days, and for so many downloads; null: for any number.
  add link_days integer not null default 30,
  add most_downloads integer;

insert into stored_file (key, created_at) select 'file-' || id, created_at from file;
insert into file_piece (key, n, data)
select 'file-' || id, n, substring(content from n * 262144 + 1 for 262144)
from file, generate_series(0, (octet_length(content) - 1) / 262144) n;
insert into file_version (file_id, number, key, name, media_type, size, made_at, made_by)
select id, 1, 'file-' || id, name, media_type, octet_length(content), created_at, 'migration' from file;
update file set version = 1;

alter table file drop content;

-- Who took what, by which link: when that was made tells links apart.
create table file_download (
  id bigint generated always as identity primary key,
  file_id bigint not null references file on delete cascade,
  version integer not null,
  contact_id bigint references contact on delete set null,
  link_at timestamptz,
  at timestamptz not null
);
create index file_download_of_file on file_download (file_id, contact_id);
create index file_download_of_contact on file_download (contact_id) where contact_id is not null;
