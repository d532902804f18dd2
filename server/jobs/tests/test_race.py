"""Many saving at once on one revision: one lands, the others are told, none is lost or half written."""

import json
import threading

from django.contrib.auth import get_user_model
from django.db import connection
from django.test import TransactionTestCase

from engine.tests import samples
from server.jobs.actions.import_project import import_project
from server.jobs.actions.save_revision import RevisionOutdated, save_revision
from server.jobs.models import Job


class Race(TransactionTestCase):
    def test_one_lands_and_the_others_are_told(self) -> None:
        user = get_user_model().objects.create_user("fitter")
        document = samples.document(samples.arm())
        job = import_project(user, json.dumps(document).encode())
        start, outcomes = threading.Barrier(6), []

        def save(number: int) -> None:
            try:
                start.wait(30)
                changed = {**document, "note": number}
                outcomes.append(
                    save_revision(user, Job.objects.get(pk=job.pk), 1, changed, f"by {number}").number
                )
            except RevisionOutdated as outdated:
                outcomes.append(outdated.code)
            except Exception as error:  # not lost in its thread: the list below then says what it was
                outcomes.append(repr(error))
            finally:
                connection.close()

        threads = [threading.Thread(target=save, args=(number,)) for number in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(60)
        self.assertEqual(sorted(map(str, outcomes)), ["2", *["revision_outdated"] * 5])
        self.assertEqual(list(job.revisions.values_list("number", flat=True)), [1, 2])
