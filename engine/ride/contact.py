"""Where the tyre stands on the floor, and what the linkage does to track, wheelbase and roll centre.

Contact      the lowest point of the tyre's middle circle, mm. Without a tyre radius, the wheel centre itself.
Outward      away from the centreline, on either side.
Roll centre  height above the contact at which the line square to its path crosses the centreline
             (instant centre of the corner against the floor; textbook planar construction).
"""

import numpy as np

from engine.document.schema import Wheel
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array, dot


@facts
class Contact:
    """One wheel over the rows: contact and its velocity by travel (3, rows), changes from drawn (rows,) mm.

    outward : how far the contact has moved out; forward : how far the wheel centre has moved forward
    """

    place: Array
    speed: Array
    outward: Array
    forward: Array


def contact_of(linkage: Linkage, wheel: Wheel, solution: Solution) -> Contact:
    """Return a wheel's contact over solved rows."""
    centre = linkage.index[wheel.centre]
    place, speed = solution.motion.place[:, centre], solution.motion.first[:, centre]
    drawn = linkage.points[centre][:, None]
    drawn_contact = drawn
    if wheel.spindle is not None and wheel.tyre_radius is not None:
        spindle = linkage.index[wheel.spindle]
        axis = solution.motion.place[:, spindle] - place
        turning = solution.motion.first[:, spindle] - speed
        down, falling = _down(axis, turning)
        forward = place - drawn
        place, speed = place + wheel.tyre_radius * down, speed + wheel.tyre_radius * falling
        drawn_axis = linkage.points[spindle][:, None] - drawn
        drawn_contact = drawn + wheel.tyre_radius * _down(drawn_axis, np.zeros_like(drawn_axis))[0]
    else:
        forward = place - drawn
    side = 1.0 if drawn[1, 0] >= 0 else -1.0
    outward = side * (place[1] - drawn_contact[1])
    return Contact(place=place, speed=speed, outward=outward, forward=forward[0])


def _down(axis: Array, turning: Array) -> tuple[Array, Array]:
    """Return the wheel's downward direction, square to its axis, and how fast it turns."""
    length2 = dot(axis, axis)
    up = np.array([[0.0], [0.0], [1.0]])
    # u = −z + a (a·z)/|a|², then made a unit vector; differentiated with a.
    share = axis[2] / length2
    share_speed = (turning[2] - 2 * share * dot(axis, turning)) / length2
    u = -up + axis * share
    u_speed = turning * share + axis * share_speed
    size = np.sqrt(dot(u, u))
    unit = u / size
    return unit, (u_speed - unit * dot(unit, u_speed)) / size


def roll_centre_mm(contact: Contact) -> Array:
    """Return the roll centre's height above the contact, (rows,) mm, for a corner and its mirror image."""
    with np.errstate(divide="ignore", invalid="ignore"):
        height: Array = contact.place[1] * contact.speed[1] / contact.speed[2]
        return height
