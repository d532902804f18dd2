"""What happens to a job that others want to know of; whoever listens works within the same transaction."""

from django.dispatch import Signal

job_taken_in = Signal()
"""A project file became a job: `job`, `user`, and what of the file is no drawing, `survey` and `records` (None where it has none)."""

revision_saved = Signal()
"""A revision was saved on top of another: `job`, and the documents `before` and `after`."""

job_removed = Signal()
"""A job was put away; `job` is its id. Whoever works on it need not."""

job_going = Signal()
"""A job goes for good; `job` is its id. Whoever keeps something beside the store for it answers with what is done when its rows are gone."""
