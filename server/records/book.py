"""A job's book: everything that happened to it in order of time, each entry in one sentence, with what it holds.

Revisions, readings (those of one hand on one day together), marks and photographs, guards signed, cycles, weigh-ins,
settings, single readings, drives with their remarks, initials at the gates, and cautions seen to; parts made, ordered and come.
"""

from collections.abc import Iterator
from typing import Any

from engine.facts import facts
from engine.prove.gates import TITLES
from engine.sentences import Quantity, Sentence, length, travel
from engine.steps.step import BY_KEY
from server.jobs.models import Job
from server.records.actions.survey import Kept, items_of

Values = dict[str, Any]
KINDS = {
    "revision": "Design saved",
    "reading": "Read",
    "mark": "Marked",
    "photo": "Photographed",
    "guard": "Check dimension",
    "cycle": "Cycled",
    "weigh": "Weighed",
    "setting": "Set",
    "drive": "Driven",
    "gate": "Signed",
    "caution": "Checked",
    "made": "Made",
    "ordered": "Ordered",
    "came": "Has come",
    "confirmed": "Confirmed",
}


@facts
class Entry:
    """One entry: ISO time, by whom, its kind, what it says, what it holds line by line, and the sheet that shows it.

    number : a revision's; photo : a picture's id; key : a record's
    set_then : what everything was set to at that moment, where it drove well
    """

    when: str
    by: str
    kind: str
    say: Sentence
    sheet: str
    note: str = ""
    holds: tuple[Sentence, ...] = ()
    set_then: tuple[Sentence, ...] = ()
    good: bool = False
    number: int | None = None
    photo: str = ""
    key: str = ""


def book_of(job: Job) -> list[Entry]:
    """Return a job's book, the oldest entry first."""
    items = items_of(job)
    found = [*_revisions(job), *_survey(items), *_photographs(job), *_records(items)]
    return sorted(found, key=lambda entry: _moment(entry.when))


def _moment(when: str) -> str:
    """Return a time as it sorts: clocks of this program and of files write it a little differently."""
    return when.replace("Z", "").replace(" ", "T")[:23]


def _revisions(job: Job) -> Iterator[Entry]:
    for one in job.revisions.select_related("author"):
        yield Entry(
            when=one.created.isoformat(),
            by=one.author.get_username(),
            kind="revision",
            say=Sentence(f"Revision {one.number}: {{0}}", names=(one.reason,)),
            sheet="log",
            number=one.number,
        )


def _survey(items: list[Kept]) -> Iterator[Entry]:
    days: dict[tuple[str, str], list[Kept]] = {}
    for item in items:
        if item.kind == "reading":
            days.setdefault((item.at[:10], item.by), []).append(item)
        elif item.kind == "guard":
            yield _guard(item)
        elif item.kind == "mark":
            say = Sentence("A mark to measure from: {0}", names=(item.key,))
            yield Entry(when=item.at, by=item.by, kind="mark", say=say, sheet="survey", key=item.key)
    for (_, by), read in days.items():
        holds = tuple(_read(item.body) for item in read)
        count = len(read)
        say = Sentence("One reading" if count == 1 else f"{count} readings")
        last = max(item.at for item in read)
        yield Entry(when=last, by=by, kind="reading", say=say, sheet="survey", holds=holds)


def reading_figures(body: Values) -> tuple[str, list[str], list[Quantity]]:
    """Return one reading of the survey: its kind, its places, its figures."""
    places: list[str] = []
    for key in ("of", "at", "between", "along", "pair"):
        its = body.get(key) or []
        places += [str(name) for name in (its if isinstance(its, list | tuple) else [its])]
    angle = body.get("kind") in ("slope", "angle")
    values = [float(value) for value in body.get("values") or []]
    return (
        str(body.get("kind", "")),
        places,
        [Quantity(one, "angle") if angle else length(one) for one in values],
    )


def _read(body: Values) -> Sentence:
    """Return one reading of the survey as a sentence."""
    kind, places, values = reading_figures(body)
    told = {f"v{n}": one for n, one in enumerate(values)}
    words = "{0}: " + ", ".join(f"{{{n}}}" for n in range(1, len(places) + 1))
    if values:
        words += ": " + ", ".join(f"{{{key}}}" for key in told)
    if body.get("left_out"):
        words += ", left out"
    return Sentence(words, told, (kind, *places))


def _guard(item: Kept) -> Entry:
    body = item.body
    before, after = (body.get(key) or [] for key in ("before", "after"))
    told = {f"b{n}": length(float(value)) for n, value in enumerate(before)}
    told |= {f"a{n}": length(float(value)) for n, value in enumerate(after)}
    words = "Check dimension {0} before the cut: " + ", ".join(f"{{b{n}}}" for n in range(len(before)))
    if after:
        words += "; after: " + ", ".join(f"{{a{n}}}" for n in range(len(after)))
    names = [str(body.get("name", ""))]
    if body.get("signed"):
        words += "; signed {1}"
        names.append(str(body["signed"]))
    when = str(body.get("when_after") or body.get("when_before") or item.at)
    return Entry(when=when, by=item.by, kind="guard", say=Sentence(words, told, tuple(names)), sheet="survey")


def _photographs(job: Job) -> Iterator[Entry]:
    for one in job.photographs.filter(gone=False).select_related("by"):
        yield Entry(
            when=one.at.isoformat(),
            by=one.by.get_username() if one.by else "",
            kind="photo",
            say=Sentence("Photograph: {0}", names=(one.name,)),
            sheet="survey",
            photo=str(one.id),
        )


def _records(items: list[Kept]) -> Iterator[Entry]:
    kept = sorted(
        (item for item in items if item.kind == "record"),
        key=lambda item: _moment(str(item.body.get("when", ""))),
    )
    now: dict[tuple[str, str], Sentence] = {}
    for item in kept:
        body = item.body
        say, holds = record_said(body)
        if body.get("kind") == "setting":
            now[str(body.get("station")), str(body.get("what"))] = say
        good = bool(body.get("kind") == "drive" and body.get("good"))
        yield Entry(
            when=str(body.get("when", item.at)),
            by=str(body.get("by") or item.by),
            kind=str(body.get("kind", "")),
            say=say,
            sheet="prove",
            note=str(body.get("note") or ""),
            holds=holds,
            set_then=tuple(now.values()) if good else (),
            good=good,
            key=item.key,
        )


def record_said(body: Values) -> tuple[Sentence, tuple[Sentence, ...]]:
    """Return what was found on the floor in one sentence, and line by line."""
    match body.get("kind"):
        case "cycle":
            return _cycle(body)
        case "weigh":
            return _weigh(body)
        case "setting":
            return _setting(body), ()
        case "drive":
            return _drive(body), ()
        case "gate":
            name = str(body.get("name", ""))
            names = (str(body.get("station") or ""), TITLES.get(name, name), str(body.get("initials", "")))
            return Sentence("{0}, {1}: initials {2}", names=names), ()
        case "caution":
            words = "{1}: {0}" if body.get("station") else "{0}"
            return Sentence(words, names=(str(body.get("what", "")), str(body.get("station") or ""))), ()
        case "made":
            words = f"{{1}}: {{0}}{', ' + str(body['count']) + ' of them' if body.get('count') else ''}"
            return Sentence(words, names=(str(body.get("part", "")), str(body.get("station", "")))), ()
        case "ordered" | "came":
            what, station = str(body.get("what", "")), str(body.get("station") or "")
            due = f", due {body['due']}" if body.get("due") else ""
            said = "everything that is bought for it" if what == "everything" else what
            return Sentence(("{1}: {0}" if station else "{0}") + due, names=(said, station)), ()
        case "confirmed":
            step = BY_KEY.get(str(body.get("step", "")))
            names = (step.name if step else str(body.get("step", "")), str(body.get("station") or ""), str(body.get("initials", "")))  # fmt: skip
            return Sentence("{1}, {0}: initials {2}" if names[1] else "{0}: initials {2}", names=names), ()
    told = f"{{0}} {body.get('value', '')} {body.get('unit', '')}".strip().replace("{}", "")
    of, station = str(body.get("of", "")), str(body.get("station") or "")
    return Sentence(told + (", {1}" if station else ""), names=(of, station)), ()


def _cycle(body: Values) -> tuple[Sentence, tuple[Sentence, ...]]:
    rows, touched = body.get("rows") or [], body.get("contacts") or []
    wheels = [float(row["wheel"]) for row in rows if row.get("wheel") is not None]
    words, told = f"{{0}}, {len(rows)} rows", {}
    if wheels:
        words += " from {low} to {high}"
        told = {"low": travel(min(wheels)), "high": travel(max(wheels))}
    words += ", springs out" if body.get("springs_out") else ""
    words += "; it touched: " + ", ".join(f"{{{n}}}" for n in range(1, len(touched) + 1)) if touched else ""
    names = (str(body.get("station", "")), *(str(one.get("what", "")) for one in touched))
    holds = []
    for row in rows:
        at = row.get("wheel", row.get("height"))
        lengths = row.get("lengths") or {}
        says = {"at": travel(float(at or 0.0))} | {
            f"l{n}": length(float(long)) for n, long in enumerate(lengths.values())
        }
        line = "{at}: " + ", ".join(f"{{{n}}} {{l{n}}}" for n in range(len(lengths)))
        holds.append(Sentence(line, says, tuple(str(name) for name in lengths)))
    return Sentence(words, told, names), tuple(holds)


def _weigh(body: Values) -> tuple[Sentence, tuple[Sentence, ...]]:
    wheels, heights = body.get("wheels") or {}, body.get("heights") or {}
    total = sum(float(its) for its in wheels.values())
    raised = body.get("raised")
    loaded = str(body.get("with") or "")
    words = "{total}" + (", {0}" if loaded else "")
    told = {"total": Quantity(total, "mass")}
    if raised:
        words += f", {raised.get('end')} raised by {{by}}"
        told["by"] = length(float(raised.get("by", 0.0)))
    holds = [
        Sentence("{0} {it}", {"it": Quantity(float(its), "mass")}, (key,)) for key, its in wheels.items()
    ]
    holds += [Sentence("{0} {it} high", {"it": length(float(its))}, (key,)) for key, its in heights.items()]
    return Sentence(words, told, (loaded,) if loaded else ()), tuple(holds)


def _setting(body: Values) -> Sentence:
    measures = "pressure" if body.get("what") == "pressure" else "length"
    told = {key: Quantity(float(body[key]), measures) for key in ("from", "to") if body.get(key) is not None}
    words = "{0}, {1}" + "".join(f" {key} {{{key}}}" for key in told)
    turns = body.get("turns")
    words += f", {float(turns):+.2f} turns" if turns is not None else ""
    return Sentence(words, told, (str(body.get("station", "")), str(body.get("what", ""))))


def _drive(body: Values) -> Sentence:
    told = {
        key: length(float(body[f"used_{key}"]))
        for key in ("bump", "droop")
        if body.get(f"used_{key}") is not None
    }
    said = [f"{{{key}}} of {key} used" for key in told]
    words = (", ".join(said) or "A drive") + ("; it drove well" if body.get("good") else "")
    return Sentence(words, told)
