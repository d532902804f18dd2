"""The bundle adjustment by second routes: slopes by finite differences, a made-up vehicle found again from its own rays."""

import math
from unittest import TestCase

import numpy as np

from engine.document.survey import Survey
from engine.survey.adjust import adjust
from engine.survey.network import Network, Seen, laid_on
from engine.survey.stickers.bundle import Start, _System, bundle
from engine.survey.stickers.helps import next_picture, said_of
from engine.survey.stickers.seeing import CORNERS, Pictures, SeenSticker, projected, turned

NAMES = [f"P{k}" for k in range(14)]


def vehicle(seed: int, noise: float = 0.1) -> tuple[Survey, dict[str, list[float]], Pictures, Start, np.ndarray, list[tuple[np.ndarray, np.ndarray]]]:  # fmt: skip
    """Return fourteen stickers on a frame seen in six pictures, with a start that is off, and the truth."""
    random = np.random.default_rng(seed)
    spots = random.uniform([-900, -600, 100], [900, 600, 700], (14, 3))
    lie = turned(random.normal(0, 0.4, (14, 3))) @ np.array([[1.0, 0, 0], [0, 1, 0], [0, 0, 1]])
    camera = np.array([2400.0, 1610.0, 1190.0, 0.03, -0.04])
    shots, seen = [], []
    for k in range(6):
        turn = 2 * math.pi * k / 6
        at = np.array([1600 * math.cos(turn), 1500 * math.sin(turn), 2200.0])
        way = (np.array([0, 0, 300.0]) - at) / np.linalg.norm(np.array([0, 0, 300.0]) - at)
        right = np.cross(way, [0, 0, 1.0])
        right /= np.linalg.norm(right)
        rotation = np.array([right, np.cross(way, right), way])
        shots.append((rotation, -rotation @ at))
        for number in range(14):
            world = CORNERS * 60.0 @ lie[number].T + spots[number]
            pixels = projected(world @ rotation.T - rotation @ at, np.repeat(camera[None], 4, axis=0))[0]
            seen.append(
                SeenSticker(picture=k, number=number, corners=pixels + random.normal(0, noise, (4, 2)))
            )
    readings = [
        {"kind": "height", "of": NAMES[k], "values": [spots[k, 2] + random.normal(0, 0.2)], "sigma": 0.2}
        for k in (0, 1, 2, 3)
    ]
    readings += [
        {"kind": "offset", "of": NAMES[k], "values": [spots[k, 1] + random.normal(0, 0.2)], "sigma": 0.2}
        for k in (0, 4, 5)
    ]
    readings += [
        {"kind": "fore_aft", "of": NAMES[0], "values": [spots[0, 0] + random.normal(0, 0.2)], "sigma": 0.2}
    ]
    survey = Survey.model_validate(
        {
            "marks": {},
            "readings": readings,
            "stickers": {"size": 60.0, "places": {str(k): name for k, name in enumerate(NAMES)}},
        }
    )
    drawn = {
        name: [float(c) for c in spot + random.normal(0, 15, 3)]
        for name, spot in zip(NAMES, spots, strict=True)
    }
    pictures = Pictures(
        files=tuple(f"{k}.png" for k in range(6)),
        cameras=("telephone",) * 6,
        sizes={"telephone": (3200, 2400)},
        focals={"telephone": None},
        seen=tuple(seen),
    )
    start = Start(
        turns={k: turned(random.normal(0, 0.02, 3)) @ turn for k, (turn, _) in enumerate(shots)},
        shifts={k: shift + random.normal(0, 20, 3) for k, (_, shift) in enumerate(shots)},
        lie={k: turned(random.normal(0, 0.1, 3)) @ lie[k] for k in range(14)},
        focals={"telephone": 2300.0},
    )
    return survey, drawn, pictures, start, spots, shots


def network_of(survey: Survey, drawn: dict[str, list[float]]) -> Network:
    at = np.array([drawn[name] for name in NAMES])
    return Network(survey, drawn, Seen(places=tuple(NAMES), at=at, rows=np.zeros((0, 42))))


class Adjusting(TestCase):
    def test_every_slope_is_the_finite_difference(self) -> None:
        survey, drawn, pictures, start, _, _ = vehicle(1)
        system = _System(survey, network_of(survey, drawn), pictures, start)
        some = pictures.seen[::5]
        slopes = system.images(some)[1]
        step = 1e-5
        for column in range(0, system.columns, 3):
            by = np.zeros(system.columns)
            by[column] = step
            ahead, behind = system.moved(by).images(some)[0], system.moved(-by).images(some)[0]
            difference = (behind - ahead).ravel() / (2 * step)  # left is seen less would be
            np.testing.assert_allclose(
                slopes[:, column], difference, atol=2e-3 * max(1.0, np.abs(difference).max())
            )

    def test_a_vehicle_is_found_again_with_its_own_errors(self) -> None:
        whole = []
        for seed in range(6):
            survey, drawn, pictures, start, spots, _ = vehicle(seed, noise=0.3)
            found = bundle(survey, network_of(survey, drawn), pictures, start)
            self.assertTrue(found.converged)
            self.assertFalse(found.laid)
            self.assertEqual(found.slips, ())
            self.assertAlmostEqual(found.pixel, 0.3, delta=0.05)
            self.assertAlmostEqual(
                found.cameras["telephone"][0][0], 2400.0, delta=4 * found.cameras["telephone"][1]
            )
            for k, name in enumerate(NAMES):
                off = found.spots[found.network.index[name]] - spots[k]
                self.assertLess(float(np.abs(off).max()), 3.0)
                whole += list(off / found.sigma[name])
        spread = float(np.sqrt(np.mean(np.square(whole))))
        self.assertTrue(0.7 < spread < 1.4, spread)

    def test_the_survey_with_the_pictures_in_it_says_the_same_places_and_errors(self) -> None:
        survey, drawn, pictures, start, spots, _ = vehicle(3)
        found = bundle(survey, network_of(survey, drawn), pictures, start)
        network = Network(survey, drawn, found.seen)
        fit = adjust(network).fit
        for k, name in enumerate(NAMES):
            n = network.index[name]
            self.assertLess(float(np.abs(fit.spots[n] - found.spots[found.network.index[name]]).max()), 0.05)
            np.testing.assert_allclose(fit.sigma[n], found.sigma[name], rtol=0.05)
            self.assertLess(float(np.abs(fit.spots[n] - spots[k]).max()), 2.0)
        self.assertFalse(fit.loose.any())

    def test_a_drawing_that_is_turned_far_round_is_stood_where_the_readings_say(self) -> None:
        survey, drawn, pictures, start, spots, _ = vehicle(7)
        about = turned(np.array([0.3, -0.4, 1.2]))
        far = np.array([400.0, -900.0, 300.0])
        rough = {name: list(about @ np.array(at) + far) for name, at in drawn.items()}
        begun = Start(
            turns={k: turn @ about.T for k, turn in start.turns.items()},
            shifts={k: start.shifts[k] - turn @ about.T @ far for k, turn in start.turns.items()},
            lie={k: about @ lie for k, lie in start.lie.items()},
            focals=start.focals,
            spots=np.array([rough[name] for name in NAMES]),
        )
        found = bundle(survey, network_of(survey, rough), pictures, begun)
        at = np.array([found.spots[found.network.index[name]] for name in NAMES])
        self.assertLess(float(np.abs(at - spots).max()), 2.0)

    def test_one_wild_tape_is_named_and_the_pictures_are_no_pick_to_leave_out(self) -> None:
        survey, drawn, pictures, start, spots, _ = vehicle(8)
        found = bundle(survey, network_of(survey, drawn), pictures, start)
        for wild in (60.0, 5000.0):
            values = survey.model_dump(mode="json", exclude_unset=True)
            far = float(np.linalg.norm(spots[2] - spots[9])) + wild
            values["readings"].append({"kind": "distance", "between": ["P2", "P9"], "values": [far]})
            network = Network(Survey.model_validate(values), drawn, found.seen)
            answer = adjust(network)
            self.assertEqual([one.number for one in answer.suspects], [len(values["readings"]) - 1])
            self.assertEqual(answer.picks, ())
            for k, name in enumerate(NAMES):
                self.assertLess(float(np.abs(answer.fit.spots[network.index[name]] - spots[k]).max()), 2.0)

    def test_what_pictures_say_holds_however_the_whole_is_turned_and_without_places_that_are_gone(
        self,
    ) -> None:
        survey, drawn, pictures, start, _, _ = vehicle(9)
        found = bundle(survey, network_of(survey, drawn), pictures, start)
        about, far = turned(np.array([0.5, -0.2, 2.0])), np.array([3000.0, 100.0, -50.0])
        elsewhere = Seen(places=found.seen.places, at=found.seen.at @ about.T + far, rows=(found.seen.rows.reshape(-1, 14, 3) @ about.T).reshape(-1, 42))  # fmt: skip
        one, other = (adjust(Network(survey, drawn, seen)).fit for seen in (found.seen, elsewhere))
        np.testing.assert_allclose(one.spots, other.spots, atol=0.02)
        np.testing.assert_allclose(one.sigma, other.sigma, rtol=0.02)
        # Places that are gone from the job take nothing from the others with them.
        some = [name for name in NAMES if name not in ("P9", "P11")]
        two, fewer = (Network(survey, drawn, seen) for seen in (found.seen, found.seen.only([*some, "Q1"])))
        self.assertNotIn("P9", fewer.index)
        whole, less = adjust(two).fit, adjust(fewer).fit
        for name in some:
            k, n = two.index[name], fewer.index[name]
            np.testing.assert_allclose(less.spots[n], whole.spots[k], atol=0.01)
            np.testing.assert_allclose(less.sigma[n], whole.sigma[k], rtol=0.01)

    def test_a_sticker_that_stood_elsewhere_in_two_pictures_is_named_with_both(self) -> None:
        survey, drawn, pictures, start, spots, shots = vehicle(4)
        moved, camera = np.array([20.0, 15.0, 18.0]), np.array([2400.0, 1610.0, 1190.0, 0.03, -0.04])
        seen = []
        for one in pictures.seen:
            corners = one.corners
            if one.number == 6 and one.picture in (1, 4):
                turn, shift = shots[one.picture]
                world = CORNERS * 60.0 + spots[6] + moved
                corners = projected(world @ turn.T + shift, np.repeat(camera[None], 4, axis=0))[0]
            seen.append(SeenSticker(picture=one.picture, number=one.number, corners=corners))
        its = Pictures(files=pictures.files, cameras=pictures.cameras, sizes=pictures.sizes, focals=pictures.focals, seen=tuple(seen))  # fmt: skip
        found = bundle(survey, network_of(survey, drawn), its, start)
        self.assertEqual([(one.number, one.pictures) for one in found.slips], [(6, (1, 4))])
        self.assertAlmostEqual(found.slips[0].by or 0.0, float(np.linalg.norm(moved)), delta=1.5)
        self.assertLess(float(np.abs(found.spots[found.network.index["P6"]] - spots[6]).max()), 1.5)

    def test_without_a_reading_it_is_laid_on_the_drawing_and_said_so(self) -> None:
        survey, drawn, pictures, start, _, _ = vehicle(5)
        bare = survey.model_copy(update={"readings": []})
        found = bundle(bare, network_of(bare, drawn), pictures, start)
        self.assertTrue(found.laid)
        at = np.array([drawn[name] for name in NAMES])
        its = np.array([found.spots[found.network.index[name]] for name in NAMES])
        np.testing.assert_allclose(its.mean(axis=0), at.mean(axis=0), atol=0.05)

    def test_tapes_between_places_give_scale_and_move_the_whole_nowhere(self) -> None:
        survey, drawn, pictures, start, spots, _ = vehicle(10)
        for many in (1, 5, 20):
            pairs = [(k % 14, (3 * k + 5) % 14) for k in range(many)]
            tapes = [
                {"kind": "distance", "between": [NAMES[a], NAMES[b]], "values": [float(np.linalg.norm(spots[a] - spots[b]))]}
                for a, b in pairs
                if a != b
            ]  # fmt: skip
            taped = Survey.model_validate(
                {"readings": tapes, "stickers": survey.stickers.model_dump(mode="json")}
            )
            found = bundle(taped, network_of(taped, drawn), pictures, start)
            self.assertTrue(found.laid and found.converged)
            self.assertAlmostEqual(found.cameras["telephone"][0][0], 2400.0, delta=6.0)
            at = np.array([found.spots[found.network.index[name]] for name in NAMES])
            turn = laid_on(at - at.mean(axis=0), spots - spots.mean(axis=0))
            apart = (at - at.mean(axis=0)) @ turn.T - (spots - spots.mean(axis=0))
            self.assertLess(float(np.abs(apart).max()), 2.5)
            drawn_at = np.array([drawn[name] for name in NAMES])
            np.testing.assert_allclose(at.mean(axis=0), drawn_at.mean(axis=0), atol=0.1)

    def test_the_picture_that_helps_most_does_what_it_is_said_to_do(self) -> None:
        survey, drawn, pictures, start, spots, shots = vehicle(11)
        # Two stickers are seen once only: they are known worst by far.
        few = tuple(one for one in pictures.seen if one.number not in (3, 8) or one.picture == 2)
        its = Pictures(files=pictures.files, cameras=pictures.cameras, sizes=pictures.sizes, focals=pictures.focals, seen=few)  # fmt: skip
        found = bundle(survey, network_of(survey, drawn), its, start)
        helps = next_picture(survey, its, found)
        assert helps is not None
        rms = float(np.sqrt(np.mean([np.square(one) for one in found.sigma.values()])))
        self.assertAlmostEqual(helps.now, rms, delta=0.02 * rms)
        self.assertTrue({3, 8} & set(helps.shows))
        # It is taken: what is then known is what was said.
        lie = np.array([found.lie[k] for k in range(14)])
        spot = found.spots[found.network.index[f"P{helps.towards}"]]
        way = (spot - helps.at) / np.linalg.norm(spot - helps.at)
        right = np.cross(way, [0, 0, 1.0]) / np.linalg.norm(np.cross(way, [0, 0, 1.0]))
        rotation = np.array([right, np.cross(way, right), way])
        camera = np.array([2400.0, 1610.0, 1190.0, 0.03, -0.04])
        random = np.random.default_rng(4)
        more = []
        for number in helps.shows:
            world = CORNERS * 60.0 @ lie[number].T + spots[number]
            pixels = projected(world @ rotation.T - rotation @ helps.at, np.repeat(camera[None], 4, axis=0))[
                0
            ]
            more.append(SeenSticker(picture=6, number=number, corners=pixels + random.normal(0, 0.1, (4, 2))))
        seven = Pictures(files=(*pictures.files, "6.png"), cameras=("telephone",) * 7, sizes=pictures.sizes, focals=pictures.focals, seen=(*few, *more))  # fmt: skip
        begun = Start(turns={**start.turns, 6: rotation}, shifts={**start.shifts, 6: -rotation @ helps.at}, lie=start.lie, focals=start.focals)  # fmt: skip
        after = bundle(survey, network_of(survey, drawn), seven, begun)
        rms = float(np.sqrt(np.mean([np.square(one) for one in after.sigma.values()])))
        self.assertAlmostEqual(rms, helps.then, delta=0.15 * rms)
        self.assertLess(helps.then, 0.9 * helps.now)
        self.assertIn(f"m from sticker {helps.towards}", said_of(helps, spot))
        # Where all of them are seen all round, no more is worth the walk.
        whole = bundle(survey, network_of(survey, drawn), pictures, start)
        self.assertIsNone(next_picture(survey, pictures, whole))
        del shots

    def test_a_sticker_that_stands_off_says_the_place_under_it(self) -> None:
        survey, drawn, pictures, start, spots, _ = vehicle(6)
        values = survey.model_dump(mode="json", exclude_unset=True)
        values["stickers"]["places"]["9"] = {"place": "P9", "stands_off": 5.0}
        found = bundle(Survey.model_validate(values), network_of(survey, drawn), pictures, start)
        under = spots[9] - 5.0 * found.lie[9][:, 2]
        self.assertLess(float(np.abs(found.spots[found.network.index["P9"]] - under).max()), 1.0)
