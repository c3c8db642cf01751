-- Templates are objects of the estate like the rest.
ALTER TABLE estate_object
  MODIFY kind VARCHAR(12) NOT NULL
    CHECK (kind IN ('permission', 'trunk', 'schedule', 'status', 'group', 'menu', 'template'));

-- The template that a person's plan was started from; one that is followed cannot be removed.
ALTER TABLE person
  ADD COLUMN template_kind VARCHAR(12) NOT NULL DEFAULT 'template' CHECK (template_kind = 'template'),
  ADD COLUMN template_id VARCHAR(120) NULL,
  ADD CONSTRAINT person_template FOREIGN KEY (template_kind, template_id) REFERENCES estate_object (kind, id);
