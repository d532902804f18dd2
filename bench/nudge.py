"""What a nudge costs at the server, request to answer, and what its findings' remedies cost: every demo station.

OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.nudge
"""

import json
import os
import time
from typing import Any

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from django.conf import settings
from django.test import RequestFactory

from server.solving import api, asked
from server.solving.shapes import LookIn

FILES = settings.ROOT / "server" / "demo" / "files"
NUDGES = 10


def nudged(document: dict[str, Any], station: int) -> LookIn:
    """Return the station's first place on the chassis moved by a tenth of a millimetre."""
    its = document["stations"][station]
    its["points"][its["chassis"][0]][2] += 0.1
    return LookIn(document=document, station=station)


def main() -> None:
    request = RequestFactory().post("/")
    print(f"{'station':44}{'nudge':>10}{'anew':>10}{'remedies':>12}")
    for file in sorted(FILES.glob("*.json")):
        document = json.loads(file.read_text("utf-8"))
        document = {key: value for key, value in document.items() if key not in ("survey", "records")}
        for number, station in enumerate(document["stations"]):
            if station.get("variant_of"):
                continue
            api.solve(request, nudged(document, number))
            began = time.process_time()
            for _ in range(NUDGES):
                answer = api.solve(request, nudged(document, number))
            nudge = (time.process_time() - began) / NUDGES
            began = time.process_time()
            for _ in range(3):
                asked._worked.cache_clear()
                asked._solved.cache_clear()
                api.solve(request, nudged(document, number))
            anew = (time.process_time() - began) / 3
            open_ones = [one for one in json.loads(answer.content)["findings"] if one["mark"] != "good"]
            began = time.process_time()
            for one in open_ones:
                api.remedy(
                    request,
                    api.RemedyIn(
                        document=document, station=number, code=one["code"], subjects=one["subjects"]
                    ),
                )
            remedies = time.process_time() - began
            name = f"{file.stem}: {station['name']}"[:43]
            print(f"{name:44}{1e3 * nudge:7.0f} ms{1e3 * anew:7.0f} ms{remedies:7.2f} s ({len(open_ones)})")


if __name__ == "__main__":
    main()
