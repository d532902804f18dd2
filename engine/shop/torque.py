"""How tight a bolt is drawn: three quarters of its proof load, by the friction of a dry plain thread.

T = K·F·d with K = 0.2 (Motosh's equation at a friction of about 0.14), F = 0.75·proof stress·stress area, and the stress
area of ISO 898-1: A = π/4·(d − 0.9382·P)².
"""

import math

from engine.document.threads import Screw

NUT_FACTOR, OF_PROOF = 0.2, 0.75
PROOF_N_PER_MM2 = 580.0  # class 8.8 up to M16, and about grade 5; larger ones a little more


def stress_area(thread: Screw) -> float:
    """Return the area that a thread carries by, mm²."""
    return math.pi / 4 * (thread.size - 0.9382 * thread.pitch) ** 2


def torque(thread: Screw) -> float:
    """Return the torque of a dry plain bolt of class 8.8 or grade 5, N·m."""
    return NUT_FACTOR * OF_PROOF * PROOF_N_PER_MM2 * stress_area(thread) * thread.size / 1000.0
