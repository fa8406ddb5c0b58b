"""A stand-in for a jump plate with two halves: force traces of jumps whose heights and sides are known."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np

from uvren.core.jumps import GRAVITY

RATE = 1000.0


@dataclass(frozen=True)
class TrueJump:
    """A jump as it truly was: mass in kg, height in m, the left foot's part of the force."""

    mass: float
    height: float
    left_share: float = 0.5

    @property
    def speed(self) -> float:
        """At take-off and landing, in m/s."""
        return float(np.sqrt(2 * GRAVITY * self.height))

    @property
    def flight(self) -> float:
        return 2 * self.speed / GRAVITY


def countermovement(jump: TrueJump, random: np.random.Generator, noise: float = 2.0) -> tuple[np.ndarray, np.ndarray]:
    """Left and right force in N at 1 kHz: quiet standing, dip, push, flight, landing."""
    weight = jump.mass * GRAVITY
    time = np.arange(0, 0.3, 1 / RATE)
    dip = -0.55 * weight * np.sin(np.pi * time / 0.3)
    lost = dip.sum() / RATE
    # The push gives back what the dip took, and the take-off speed.
    shape = np.sin(np.pi * np.arange(0, 0.42, 1 / RATE) / 0.42) ** 0.8
    push = shape * (jump.mass * jump.speed - lost) / (shape.sum() / RATE)
    landing = weight * (1 + 2.2 * np.exp(-np.arange(0, 0.6, 1 / RATE) / 0.08))
    on = np.concatenate([np.full(1200, weight), weight + dip, weight + push])
    force = np.concatenate([on, np.zeros(round(jump.flight * RATE)), landing, np.full(300, weight)])
    return _feet(force, jump.left_share, random, noise)


def drop(
    jump: TrueJump, contact: float, random: np.random.Generator, noise: float = 2.0
) -> tuple[np.ndarray, np.ndarray]:
    """Left and right force of a drop jump: an empty plate, a contact of so many seconds, flight, landing."""
    weight = jump.mass * GRAVITY
    steps = round(contact * RATE)
    shape = np.sin(np.pi * (np.arange(steps) + 0.5) / steps)
    push = shape * (weight * contact + 2 * jump.mass * jump.speed) / (shape.sum() / RATE)
    landing = weight * (1 + 2.0 * np.exp(-np.arange(0, 0.6, 1 / RATE) / 0.08))
    force = np.concatenate([np.zeros(400), push, np.zeros(round(jump.flight * RATE)), landing])
    return _feet(force, jump.left_share, random, noise)


def _feet(
    force: np.ndarray, left_share: float, random: np.random.Generator, noise: float
) -> tuple[np.ndarray, np.ndarray]:
    return tuple(  # type: ignore[return-value]
        force * share + random.normal(0, noise, force.size) for share in (left_share, 1 - left_share)
    )


def plate_file(left: np.ndarray, right: np.ndarray) -> str:
    """The trace as the plate writes it."""
    buffer = io.StringIO()
    buffer.write("Time (ms);Plate L (N);Plate R (N)\n")
    for i, (one, other) in enumerate(zip(left, right, strict=True)):
        buffer.write(f"{i};{one:.1f};{other:.1f}\n")
    return buffer.getvalue()
