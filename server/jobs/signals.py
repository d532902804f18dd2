"""What happens to a job that others want to know of."""

from django.dispatch import Signal

job_removed = Signal()
"""A job was put away; `job` is its id. Whoever works on it need not."""
