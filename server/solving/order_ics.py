"""A plan as an iCalendar file (RFC 5545): an event for each stretch of work, in the shop's own time zone."""

from datetime import UTC, datetime
from hashlib import sha256
from typing import Any
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event

NAME = "-//Jugatrix//Order of work//EN"


def calendar_of(values: dict[str, Any], zone: str, who: str | None = None) -> bytes:
    """Return the plan of an order as a calendar; of one person where `who` says."""
    calendar = Calendar()
    calendar.add("prodid", NAME)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Order of work" if who is None else f"Order of work, {who}")
    clock = ZoneInfo(zone)
    made = datetime.now(UTC)
    names = {
        (job["name"], one["station"], one["step"]): one for job in values["jobs"] for one in job["steps"]
    }
    for entry in values["plan"]:
        if who is not None and entry["who"] != who:
            continue
        step = names[entry["job"], entry["station"], entry["step"]]
        where = "" if entry["station"] is None else f"{entry['station']}: "
        event = Event()
        event.add("uid", _uid(entry))
        event.add("dtstamp", made)
        event.add("dtstart", datetime.fromisoformat(entry["from"]).replace(tzinfo=clock))
        event.add("dtend", datetime.fromisoformat(entry["to"]).replace(tzinfo=clock))
        event.add("summary", f"{entry['who']}: {where}{step['name']}, {entry['job']}")
        event.add("description", f"{step['say']} {step['why']}".strip())
        calendar.add_component(event)
    calendar.add_missing_timezones()
    data: bytes = calendar.to_ical()
    return data


def _uid(entry: dict[str, Any]) -> str:
    """Return what names an event: the same step at the same time is the same event."""
    said = "|".join(str(entry[key]) for key in ("who", "job", "station", "step", "from"))
    return f"{sha256(said.encode()).hexdigest()[:32]}@jugatrix"
