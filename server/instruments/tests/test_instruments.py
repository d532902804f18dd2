"""Instruments: the stand-ins' manners, lines that are none, one that goes away, and what the screen is told."""

import contextlib
import itertools
import json
import socket
import threading
import time
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

import numpy as np
from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.station.solved import solve_station
from server.instruments.reader import CALM_LINES, MEAN_LINES, STALE_S, Line, Reading, read_line
from server.instruments.stand_in import (
    ANGLE_FINDER,
    DISTANCE_METER,
    MANNERS,
    SCALES,
    TRAVEL_PAIR,
    StandIn,
    State,
)

FILES = Path(__file__).resolve().parents[2] / "demo" / "files"


class Babbler:
    """An instrument out of its mind: it sends something once, and then holds the line or drops it."""

    def __init__(self, sends: bytes, hold: bool = False) -> None:
        self.server = socket.create_server(("127.0.0.1", 0))
        self.sends, self.hold, self.done = sends, hold, threading.Event()
        threading.Thread(target=self._talk, daemon=True).start()

    def _talk(self) -> None:
        with contextlib.suppress(OSError):
            talk, _ = self.server.accept()
            time.sleep(0.2)  # what comes before the line is opened is thrown away
            talk.sendall(self.sends)
            self.done.wait(10 if self.hold else 0.5)
            talk.close()

    def __enter__(self) -> str:
        return f"socket://127.0.0.1:{self.server.getsockname()[1]}"

    def __exit__(self, *_: object) -> None:
        self.done.set()
        self.server.close()


class Manners(PlainTestCase):
    def test_it_lags_settles_and_scatters_about_what_it_is_held_to(self) -> None:
        state = State(DISTANCE_METER)
        state.aim(612.0)
        first = state.line()
        self.assertIn("moving", first)
        self.assertLess(float(first.split()[0]), 400)
        shown = [state.line().split() for _ in range(60)]
        self.assertEqual(shown[-1][2], "ok")
        figures = [float(words[0]) for words in shown[30:]]
        self.assertLess(abs(sum(figures) / len(figures) - 612.0), 0.6)
        self.assertGreater(max(figures) - min(figures), 0.2)

    def test_zero_and_a_flat_battery_and_what_it_cannot_read(self) -> None:
        state = State(ANGLE_FINDER)
        state.aim(12.0)
        for _ in range(40):
            state.line()
        state.asked("zero\n")
        self.assertLess(abs(float(state.line().split()[0])), 0.3)
        state.asked("drain")
        self.assertEqual(read_line(state.line()).said, "Its battery is flat. Charge it.")
        state.asked("charge")
        self.assertIsNotNone(read_line(state.line()).value)
        state.aim(400.0)
        self.assertIn("cannot read that", read_line(state.line()).said)
        state.asked("aim somewhere")
        state.asked("\x00\xff")

    def test_lines_that_are_none(self) -> None:
        for line in (
            "",
            "71.2",
            "71.2 deg ok",
            "x deg ok 80",
            "71.2 furlong ok 80",
            "\x00\x01",
            "nan deg ok 80",
            "1.0/inf kg ok 80",
            "1.0//2.0 kg ok 80",
            "71.2 deg ok nan",
        ):
            reading = read_line(line)
            self.assertIsNone(reading.value)
            self.assertIn("not understood", reading.said)

    def test_one_held_to_nothing_shows_nothing(self) -> None:
        for manner in MANNERS:
            state = State(manner)
            for _ in range(8):
                self.assertEqual(read_line(state.line()).values, ())

    def test_scales_have_a_figure_a_pad_and_a_pair_follows_its_wheel(self) -> None:
        scales = State(SCALES)
        scales.asked("aim 182.5 190.0 211.0")
        for _ in range(40):
            reading = read_line(scales.line())
        self.assertTrue(reading.steady)
        for figure, true in zip(reading.values, (182.5, 190.0, 211.0), strict=True):
            self.assertAlmostEqual(figure, true, delta=1.0)
        pair = State(TRAVEL_PAIR)
        pair.asked("curve -40:340 0:310 40:284")
        pair.asked("aim 40")
        seen = [read_line(pair.line()).values for _ in range(40)]
        for wheel, damper in seen:
            true = 310 - wheel * (30 / 40 if wheel < 0 else 26 / 40)
            self.assertAlmostEqual(damper, true, delta=0.9)
        wheels = [wheel for wheel, _ in seen]
        # A jack goes at its own pace: nothing is jumped over.
        self.assertLess(max(b - a for a, b in itertools.pairwise(wheels)), TRAVEL_PAIR.pace + 0.6)
        self.assertAlmostEqual(wheels[-1], 40.0, delta=0.5)
        for nonsense in ("curve", "curve 1:2", "curve a:b c:d", "curve 1:2:3 4:5:6", "aim", "aim x"):
            pair.asked(nonsense)
        self.assertEqual(len(pair.curve), 3)


class Calm(PlainTestCase):
    """One line is as good as its noise; what is shown as steady is the mean of several."""

    def setUp(self) -> None:
        self.line, self.chance = Line("distance meter", ""), np.random.default_rng(4)

    def hear(self, at: float, word: str = "ok") -> Reading:
        return self.line.calmed(read_line(f"{at + self.chance.normal(scale=0.4):.2f} mm {word} 80"))

    def test_it_is_steady_after_some_lines_and_quieter_than_any_of_them(self) -> None:
        shown = [self.hear(111.0) for _ in range(400)]
        self.assertEqual([its.steady for its in shown[:CALM_LINES]], [False] * (CALM_LINES - 1) + [True])
        values = [its.value for its in shown[MEAN_LINES:]]
        self.assertAlmostEqual(float(np.mean(values)), 111.0, delta=0.1)
        self.assertAlmostEqual(float(np.std(values)), 0.4 / np.sqrt(MEAN_LINES), delta=0.04)

    def test_what_moves_is_shown_as_it_is_and_begins_anew(self) -> None:
        for _ in range(20):
            self.hear(111.0)
        moving = self.hear(180.0, "moving")
        self.assertFalse(moving.steady)
        self.assertAlmostEqual(moving.value or 0.0, 180.0, delta=2.0)
        self.assertFalse(self.hear(180.0).steady)

    def test_a_figure_that_jumps_without_a_word_is_another_one(self) -> None:
        for _ in range(20):
            self.hear(111.0)
        shown = [self.hear(0.0) for _ in range(CALM_LINES)]
        self.assertEqual([its.steady for its in shown], [False] * (CALM_LINES - 1) + [True])
        self.assertLess(abs(shown[-1].value or 0.0), 1.0)

    def test_heads_are_calmed_each_by_itself(self) -> None:
        for _ in range(8):
            its = self.line.calmed(read_line("182.5/190.0/211.0 kg ok 83"))
        self.assertEqual(its.values, (182.5, 190.0, 211.0))
        self.assertFalse(self.line.calmed(read_line("182.5/190.0 kg ok 83")).steady)


class Lines(PlainTestCase):
    def test_one_that_floods_or_talks_without_end_is_a_word_and_no_number(self) -> None:
        for babble in (b"9" * 100_000, b"x" * 300 + b"\n", b"nan mm ok 80\n" * 500):
            with Babbler(babble) as address:
                line = Line("distance meter", address)
                deadline = time.monotonic() + 10
                while time.monotonic() < deadline and "understood" not in line.look().said:
                    time.sleep(0.02)
                self.assertIn("not understood", line.look().said)
                self.assertIsNone(line.look().value)

    def test_one_that_stops_says_so(self) -> None:
        with Babbler(b"612.0 mm ok 80\n", hold=True) as address:
            line = Line("distance meter", address)
            line.look()
            time.sleep(STALE_S + 0.3)
            self.assertIn("stopped sending", line.look().said)
            self.assertEqual(line.look().values, ())

    def test_read_through_pyserials_own_address(self) -> None:
        stand_in = StandIn(DISTANCE_METER)
        stand_in.begin()
        line = Line("distance meter", stand_in.address)
        line.look()
        line.say("aim 843.0")
        deadline = time.monotonic() + 20
        while time.monotonic() < deadline and not (line.look().steady and (line.look().value or 0) > 800):
            time.sleep(0.1)
        reading = line.look()
        self.assertTrue(reading.steady)
        self.assertAlmostEqual(reading.value or 0.0, 843.0, delta=2.5)
        self.assertEqual(reading.unit, "mm")
        stand_in.shutdown()
        stand_in.server_close()

    def test_one_that_is_not_there_is_said(self) -> None:
        reading = Line("angle finder", "socket://127.0.0.1:9").look()
        self.assertIsNone(reading.value)
        self.assertIn("does not answer", reading.said)


class Shown(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))

    def test_it_is_held_to_what_is_in_hand_and_read(self) -> None:
        self.assertEqual(
            [one["key"] for one in self.client.get("/api/instruments").json()],
            ["angle-finder", "distance-meter", "corner-scales", "travel-pair", "air-gauge"],
        )
        self.client.get("/api/instruments/distance-meter")
        body = {"kind": "distance", "spots": [[0, 0, 0], [300, 400, 0]], "at": "distance A B"}
        sent = self.client.post("/api/instruments/distance-meter/aim", json.dumps(body), "application/json")
        self.assertEqual(sent.status_code, 204)
        deadline = time.monotonic() + 20
        shown = {}
        while time.monotonic() < deadline and not (shown.get("steady") and shown["value"] > 480):
            shown = self.client.get("/api/instruments/distance-meter").json()
            time.sleep(0.1)
        self.assertAlmostEqual(shown["value"], 500.0, delta=6)
        self.assertTrue(shown["stand_in"])
        self.assertGreater(shown["battery"], 50)

    def test_held_to_what_is_no_reading(self) -> None:
        self.client.get("/api/instruments/distance-meter")
        body = {"kind": "guess", "spots": [[0, 0]], "at": ""}
        sent = self.client.post("/api/instruments/distance-meter/aim", json.dumps(body), "application/json")
        self.assertEqual(sent.status_code, 422)

    def test_one_that_nobody_has(self) -> None:
        answer = self.client.get("/api/instruments/theodolite")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("no instrument “theodolite”", answer.json()["detail"])

    def test_strangers_read_nothing(self) -> None:
        self.client.logout()
        self.assertEqual(self.client.get("/api/instruments/angle-finder").status_code, 401)

    def heron(self) -> dict[str, Any]:
        its: dict[str, Any] = json.loads((FILES / "heron-three-wheeler.json").read_text("utf-8"))
        records = its.pop("records", [])
        its.pop("survey", None)
        return {"document": its, "records": records}

    def hold(self, key: str, **more: Any) -> Any:
        self.client.get(f"/api/instruments/{key}")
        body = {**self.heron(), **more}
        return self.client.post(f"/api/instruments/{key}/floor", json.dumps(body), "application/json")

    def settled(self, key: str) -> list[float]:
        deadline = time.monotonic() + 20
        time.sleep(0.3)
        shown: dict[str, Any] = {}
        while time.monotonic() < deadline and not shown.get("steady"):
            shown = self.client.get(f"/api/instruments/{key}").json()
            time.sleep(0.1)
        values: list[float] = shown["values"]
        return values

    def test_scales_carry_the_whole_vehicle_and_whoever_sits_in_it(self) -> None:
        self.assertEqual(self.hold("corner-scales").status_code, 204)
        empty = self.settled("corner-scales")
        self.assertEqual(len(empty), 3)
        drawn = sum(station["mass"]["corner"] for station in self.heron()["document"]["stations"][:3])
        self.assertAlmostEqual(sum(empty), drawn, delta=0.05 * drawn)
        self.hold("corner-scales", put_in=[{"name": "driver", "mass": 80, "x": -800, "y": 300}])
        full = self.settled("corner-scales")
        self.assertAlmostEqual(sum(full) - sum(empty), 80.0, delta=2.5)

    def test_the_pair_reads_the_damper_as_it_was_really_built(self) -> None:
        unit = self.heron()["document"]["stations"][2]["units"][0]["name"]
        self.assertEqual(self.hold("travel-pair", of="Rear wheel", unit=unit, travel=-30).status_code, 204)
        wheel, damper = self.settled("travel-pair")
        self.assertAlmostEqual(wheel, -30.0, delta=1.0)
        solved = solve_station(check_project(self.heron()["document"]).stations[2])
        drawn = float(solved.at(np.array([-30.0])).units[unit].length[0])
        self.assertLess(abs(damper - drawn), 8.0)
        self.assertGreater(abs(damper - drawn), 0.01)

    def test_a_height_and_what_is_not_there(self) -> None:
        self.assertEqual(self.hold("distance-meter", of="Front left").status_code, 204)
        (height,) = self.settled("distance-meter")
        self.assertGreater(height, 40.0)
        for key, of in (
            ("distance-meter", "Fifth wheel"),
            ("travel-pair", "Fifth wheel"),
            ("air-gauge", "Front left"),
        ):
            answer = self.hold(key, of=of)
            self.assertEqual(answer.status_code, 422)
            self.assertIn("There is no", answer.json()["detail"])

    def test_what_it_shows_comes_as_events_soon_after_its_line(self) -> None:
        self.client.get("/api/instruments/distance-meter")
        answer = self.client.get("/api/instruments/distance-meter/live")
        self.assertEqual(answer["Content-Type"], "text/event-stream")
        events = iter(answer.streaming_content)
        self.assertIn(b"retry", next(events))
        said = []
        for _ in range(5):
            said.append(json.loads(next(events).decode().removeprefix("data: ")))
        self.assertTrue(all(one["unit"] == "mm" for one in said[1:]))
        self.assertGreater(len({one["value"] for one in said}), 1)
        answer.close()

    def test_its_zero_button(self) -> None:
        self.hold("distance-meter", of="Front left")
        self.settled("distance-meter")
        self.assertEqual(self.client.post("/api/instruments/distance-meter/zero").status_code, 204)
        time.sleep(0.4)
        (value,) = self.settled("distance-meter")
        self.assertLess(abs(value), 3.0)
