"""The press of every kind of remedy: it clears what it says it clears, and one undo brings it back."""

import json
from collections.abc import Callable

from playwright.sync_api import expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.tests.remedies.test_remedies import good, good_arm, out_of_line, unit
from engine.tests.samples import Values, mirrored
from server.jobs.actions.import_project import import_project
from server.jobs.models import Job


def arm(kind: str, **keys: float) -> Callable[[], Values]:
    """Return a maker of the sound arm with numbers added to those of one of its units."""

    def make() -> Values:
        values = good_arm()
        for key, by in keys.items():
            unit(values, kind)[key] += by
        return values

    return make


def bag(**keys: float) -> Callable[[], Values]:
    """Return a maker of the arm on air with numbers of its bag set."""

    def make() -> Values:
        values = good("arm-on-air")
        unit(values, "air_spring").update(keys)
        return values

    return make


def pushrod(change: Callable[[Values], object]) -> Callable[[], Values]:
    """Return a maker of a pushrod corner with something of it changed."""

    def make() -> Values:
        values = good("pushrod")
        change(values)
        return values

    return make


def five_link(change: Callable[[Values], object]) -> Callable[[], Values]:
    """Return a maker of a five-link corner with something of its half shaft changed."""

    def make() -> Values:
        values = good("five-link")
        change(values["shafts"][0])
        return values

    return make


def bare(**mass: float) -> Values:
    values = good_arm()
    values["units"] = [unit(values, "coilover")]
    values["mass"] |= mass
    return values


def with_rail() -> Values:
    values = good_arm()
    wheel = values["points"]["wheel"]
    box = {"name": "rail", "shape": "box", "centre": [wheel[0], wheel[1] - 150, 620], "size": [900, 60, 80]}
    return values | {"envelopes": [box]}


def bag_by_rail() -> Values:
    values = good("arm-on-air")
    low = values["points"]["bag_low"]
    off = unit(values, "air_spring")["max_diameter"] / 2 + 36
    box = {
        "name": "rail",
        "shape": "box",
        "centre": [low[0], low[1] - off, low[2] + 90],
        "size": [800, 60, 70],
    }
    return values | {"envelopes": [box]}


def lowered_pivot(values: Values) -> None:
    for point in ("pivot_front", "pivot_rear"):
        values["points"][point][2] -= 36


def longer_coil() -> Values:
    values = good_arm()
    unit(values, "coilover")["springs"][0]["solid_length"] += 36
    return values


def crooked_eye() -> Values:
    values = good_arm()
    unit(values, "coilover")["eyes"] = [{"end": "eye", "bolt": [0.12, 1.0, 0.05]}]
    return values


def wrong_unit() -> Values:
    values = good_arm()
    spring = unit(values, "coilover")["springs"][0]
    spring["rate"] = round(spring["rate"] / 9.80665, 3)
    return values


def tight_perch() -> Values:
    values = good_arm()
    unit(values, "coilover")["perch"] = {"up": 1, "down": 23}
    return values


def wedged() -> Values:
    values = good("arm-on-air")
    unit(values, "air_spring")["plates"] = {"first": [0.0, 0.0, 1.0], "second": [0.16, 0.0, 1.0]}
    return values


SPOILED: list[tuple[str, Callable[[], Values]]] = [
    ("strap_before_damper", arm("strap", length=12)),
    ("first_in_droop", bare),
    ("first_in_bump", bare),
    ("bump_stop_before_damper", arm("bump_stop", contact=-9)),
    ("damper_extended", arm("coilover", extended=-22, preload=22)),
    ("damper_compressed", arm("coilover", compressed=18)),
    ("coil_solid", longer_coil),
    ("coil_loose", arm("coilover", preload=-44)),
    ("ride_frequency", lambda: good_arm() | {"judging": {"purpose": "sport"}}),
    ("stroke_split", arm("coilover", preload=-6)),
    ("no_equilibrium", lambda: bare(corner=560)),
    ("rate_in_other_unit", wrong_unit),
    ("bump_stop_at_ride", arm("coilover", preload=-40)),
    ("rod_square_at_ride", pushrod(lowered_pivot)),
    ("joint_tilt", pushrod(lambda values: values["joints"][0].update({"bolt": [1.0, 0.0, 0.42]}))),
    ("thread_engagement", pushrod(lambda values: values["rods"]["rod"].update({"engagement": 13}))),
    (
        "same_hand_threads",
        pushrod(lambda values: values["rods"]["rod"].update({"hands": ["right", "right"]})),
    ),
    ("shaft_angle", five_link(lambda shaft: shaft.update({"rated": 7}))),
    (
        "shaft_short",
        five_link(lambda shaft: shaft["length"].update({"least": shaft["length"]["least"] + 25})),
    ),
    ("eye_square", crooked_eye),
    ("tyre_to_structure", with_rail),
    ("bag_min_height", bag(min_height=unit(good("arm-on-air"), "air_spring")["min_height"] + 20)),
    ("bag_filling", bag(pressure=9.0)),
    ("bag_plates_at_ride", wedged),
    ("bag_pressure", bag(max_pressure=4.6)),
    ("bag_to_anything", bag_by_rail),
    ("adjustment_left", tight_perch),
    ("strap_pull", out_of_line),
]


class EveryRemedy(Bench):
    def test_each_press_clears_its_finding_and_undo_brings_it_back(self) -> None:
        stations = [make() | {"name": f"{k} {code}"} for k, (code, make) in enumerate(SPOILED)]
        left = good("wishbones-lower") | {"name": "Left", "other_side": "Right"}
        right = mirrored(left) | {"name": "Right", "other_side": "Left"}
        right["points"]["rack"][2] += 6
        document = {
            "format": "jugatrix-project", "version": 1, "name": "Everything wrong",
            "stations": [*stations, left, right],
        }  # fmt: skip
        check_project(document)
        self.sign_in()
        fitter = Job.objects.all()[0].owner
        job = import_project(fitter, json.dumps(document).encode(), "Spoiled on purpose")
        page = self.page
        page.goto(f"{self.live_server_url}/jobs/{job.pk}/layout")
        for station, code in [
            *((s["name"], s["name"].split(" ")[1]) for s in stations),
            ("Left", "sides_differ"),
        ]:
            with self.subTest(code):
                page.get_by_label("Station", exact=True).select_option(label=station)
                self.settle()
                open_ones = page.get_by_role("region", name="Look at these").get_by_test_id(f"finding-{code}")
                press = open_ones.get_by_role("button", name="Apply").first
                press.click(timeout=30_000)
                self.settle()
                expect(open_ones).to_have_count(0)
                page.get_by_role("button", name="Undo").click()
                self.settle()
                expect(open_ones).not_to_have_count(0)
