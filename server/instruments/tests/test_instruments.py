"""Instruments: the stand-ins' manners, lines that are none, one that goes away, and what the screen is told."""

import json
import time
from unittest import TestCase as PlainTestCase

from django.contrib.auth import get_user_model
from django.test import TestCase

from server.instruments.reader import Line, read_line
from server.instruments.stand_in import ANGLE_FINDER, DISTANCE_METER, StandIn, State


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
        for line in ("", "71.2", "71.2 deg ok", "x deg ok 80", "71.2 furlong ok 80", "\x00\x01"):
            reading = read_line(line)
            self.assertIsNone(reading.value)
            self.assertIn("not understood", reading.said)


class Lines(PlainTestCase):
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
            ["angle-finder", "distance-meter"],
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
