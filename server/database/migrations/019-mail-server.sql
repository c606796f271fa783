-- What the mail server said of itself when a worker last spoke to it.
create table mail_server (
  id smallint primary key default 1 check (id = 1),
  -- It takes addresses with letters of any script (SMTPUTF8, RFC 6531).
  knows_utf8 boolean not null
);
