"""Which revision of a job is the newest, told to those who have it open."""

import time

from django.db.models import Max

from server.jobs.models import Revision
from server.running.held_open import Feed

BEAT_S = 1.0


def _newest(jobs: set[str]) -> dict[str, str]:
    """Return the number of each job's newest revision; a removed job has none to tell of."""
    numbers = (
        Revision.objects.filter(job__in=jobs, job__removed=None).values_list("job").annotate(Max("number"))
    )
    return {str(job): str(number) for job, number in numbers}


SAVED = Feed(_newest, lambda: time.sleep(BEAT_S))
