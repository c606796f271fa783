-- A page may have an icon of its own.
update page_version set content = content || '{"icon": null}' where not content ? 'icon';

-- Old visits are found by when they were; they were written in that order.
create index visit_by_age on visit using brin (at);
