"""A frame solved: how every node moves under each load case, what each element carries, what is loose, when it buckles.

Scaled   every row and column by the root of its own diagonal, so that mm and turns are alike: a stiffness of less than
         NOTHING of the greatest is none.
"""

from functools import cached_property

import numpy as np
from scipy.linalg import cho_factor, cho_solve, eigh
from scipy.sparse.linalg import LinearOperator, eigsh

from engine.frame.assembled import Assembled, Element
from engine.frame.element import released, stiffness, turned, under_pull
from engine.linkage.vectors import Array

NOTHING = 1e-9
MOVES = 1e-6  # of a way to move: less than this share of it is no movement of a place
REACHES = 1e-6  # of a load: less than this along a loose way does not move it
DENSE = 240  # degrees of freedom up to which every buckling mode is found at once


class Solved:
    """The equations of one frame, put together once."""

    def __init__(self, frame: Assembled) -> None:
        """Take a frame; raise nothing: what is loose is told."""
        self.frame = frame
        self.turns = [turned(element.axes) for element in frame.elements]
        self.own = [stiffness(frame.sections[e.member], e.long) for e in frame.elements]
        self.joints = [released(k, e.free) for k, e in zip(self.own, frame.elements, strict=True)]
        self.size = 6 * len(frame.names)
        self.free = np.array([dof for dof in range(self.size) if not self._is_held(dof)], dtype=int)

    def _is_held(self, dof: int) -> bool:
        how = self.frame.held.get(dof // 6)
        return how == "fixed" or (how == "pinned" and dof % 6 < 3)

    def dofs(self, element: Element) -> list[int]:
        """Return the numbers of an element's twelve movements."""
        return [6 * node + k for node in element.nodes for k in range(6)]

    def _put_together(self, pieces: list[Array]) -> Array:
        whole = np.zeros((self.size, self.size))
        for element, turn, joint, k in zip(self.frame.elements, self.turns, self.joints, pieces, strict=True):
            at = self.dofs(element)
            with_joint = joint @ turn
            whole[np.ix_(at, at)] += with_joint.T @ k @ with_joint
        return whole

    @cached_property
    def stiffness(self) -> Array:
        """Return the stiffness of what is free to move, (free, free)."""
        found: Array = self._put_together(self.own)[np.ix_(self.free, self.free)]
        return found

    @cached_property
    def scale(self) -> Array:
        """Return what every free movement is scaled by, (free,)."""
        diagonal = np.diag(self.stiffness)
        most = max(float(diagonal.max(initial=0.0)), 1.0)
        found: Array = 1 / np.sqrt(np.where(diagonal > 1e-14 * most, diagonal, 1.0))
        return found

    @cached_property
    def ways(self) -> Array:
        """Return the ways to move that nothing holds, (free, n), each of length 1 in the scaled movements."""
        scaled = self.stiffness * self.scale[:, None] * self.scale[None, :]
        try:
            lower = np.linalg.cholesky(scaled)
            if len(scaled) == 0 or float(np.diag(lower).min()) ** 2 > 1e-7:
                return np.zeros((len(self.free), 0))
        except np.linalg.LinAlgError:
            pass
        values, vectors = eigh(scaled)
        found: Array = vectors[:, values < NOTHING * max(float(values[-1]), 1e-12)]
        return found

    @cached_property
    def loose(self) -> list[Array]:
        """Return the loose ways in which a place moves, (nodes, 3) each, the greatest movement 1."""
        found = []
        moved = self.ways * self.scale[:, None]
        places = np.array([dof % 6 < 3 for dof in self.free], dtype=bool)
        if not moved.shape[1] or not places.any():
            return []
        # Ways that only turn something about itself hurt nobody: what moves places is told, as few ways as there are.
        u, s, _ = np.linalg.svd(moved[places], full_matrices=False)
        for k in range(len(s)):
            if s[k] > MOVES * max(float(s[0]), 1e-12) and s[k] > 1e-9:
                whole = np.zeros(self.size)
                whole[self.free[places]] = u[:, k]
                nodes = whole.reshape(-1, 6)[:, :3]
                found.append(nodes / np.abs(nodes).max())
        return found

    @cached_property
    def _factor(self) -> tuple[Array, bool]:
        scaled = self.stiffness * self.scale[:, None] * self.scale[None, :]
        held = scaled + self.ways @ self.ways.T
        found: tuple[Array, bool] = cho_factor(held, lower=True)
        return found

    def moves(self, loads: Array) -> tuple[Array, np.ndarray]:
        """Return every node's movement, (nodes·6, cases), and whether each case is held, (cases,).

        loads : (nodes·6, cases) N and N·mm
        """
        given = loads[self.free] * self.scale[:, None]
        sizes = np.linalg.norm(given, axis=0)
        along = (
            np.linalg.norm(self.ways.T @ given, axis=0) if self.ways.shape[1] else np.zeros(given.shape[1])
        )
        held = along <= REACHES * np.maximum(sizes, 1e-12)
        found = np.zeros((self.size, loads.shape[1]))
        if len(self.free):
            solved = cho_solve(self._factor, given)
            solved -= self.ways @ (self.ways.T @ solved)
            found[self.free] = solved * self.scale[:, None]
        return found, held

    def carried(self, moved: Array) -> Array:
        """Return what each element carries at its ends in its own axes, (elements, 12, cases) N and N·mm."""
        found = [
            k @ joint @ turn @ moved[self.dofs(element)]
            for element, turn, joint, k in zip(
                self.frame.elements, self.turns, self.joints, self.own, strict=True
            )
        ]
        cases = moved.shape[1]
        return np.array(found).reshape(len(found), 12, cases)

    def buckles_at(self, pulls: Array) -> float | None:
        """Return how many times a case's load the whole frame buckles at; None where nothing is pushed.

        pulls : (elements,) N, pull positive
        """
        if not (pulls < -1e-9).any() or not len(self.free):
            return None
        pieces = [pull * under_pull(e.long) for pull, e in zip(pulls, self.frame.elements, strict=True)]
        geometric = self._put_together(pieces)[np.ix_(self.free, self.free)]
        against = -geometric * self.scale[:, None] * self.scale[None, :]
        scaled = self.stiffness * self.scale[:, None] * self.scale[None, :] + self.ways @ self.ways.T
        if len(scaled) <= DENSE:
            values = eigh(against, scaled, eigvals_only=True)
            most = float(values[-1])
        else:
            solve = LinearOperator(scaled.shape, matvec=lambda x: cho_solve(self._factor, x))
            start = np.ones(len(scaled))
            most = float(
                eigsh(
                    against,
                    k=1,
                    M=scaled,
                    Minv=solve,
                    which="LA",
                    v0=start,
                    return_eigenvectors=False,
                    tol=1e-7,
                )[0]
            )
        return None if most <= 1e-12 else 1 / most
