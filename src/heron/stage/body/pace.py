"""How fast a person does things: walking, turning, pointing. Each number with where it is from."""

import math
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]

#: A comfortable walk, metres a second (common practice).
COMFORTABLE_SPEED = 1.25
#: Step length over cadence, metres per step a minute: the walk ratio of Sekiya and
#: Nagasaki (1998), from memory, for an adult of 1.7 m.
WALK_RATIO = 0.0065
#: Seconds a walk takes to get up to speed, and to stop: two to three steps (Brenière and Do 1986, from memory).
RAMP_S = 0.9
#: A run takes longer to get up to speed, and to stop (common practice).
RUN_RAMP_S = 1.3
#: In a hurry a walk takes one step.
HURRIED_RAMP_S = 0.45
#: Before the first foot leaves, the weight comes over the other one for so long (the same, from memory).
WEIGHT_FIRST_S = 0.25
#: A person breaks into a run where v² / (g · leg) passes a half: Alexander (1989), from memory.
RUNNING_FROUDE = 0.5
#: A brisk walk, as a share of the speed at which running begins (common practice).
BRISK = 0.9
#: From this speed on somebody who is sent somewhere runs, metres a second (common practice).
RUNS_FROM = 2.2
#: The fastest that somebody is asked to run, metres a second, of an adult of 1.7 m.
_SPRINT = 6.0
_LEG, _GRAVITY = 0.53, 9.81
_LONGEST_STEP = 0.48
#: The most steps anyone takes in a second, whatever is asked.
MOST_STEPS_A_SECOND = 3.2
#: The most a pair of steps on the spot turns, degrees, and the seconds a step takes (common practice).
TURN_A_PAIR = 60.0
TURN_STEP_S = 0.3
#: Hurried, a step on the spot takes this long.
HURRIED_STEP_S = 0.17
#: A walk that starts, or goes on, farther round than this turns on the spot first.
TURN_FIRST = 55.0


def step_length(speed: float, stature: float) -> float:
    """Metres of one step of a walk, from its speed and the walker's stature: the walk ratio scales with stature to the power of 1.5."""
    step = math.sqrt(60 * WALK_RATIO * speed) * math.pow(stature / 1.7, 0.75)
    return min(step, _LONGEST_STEP * stature)


def both_down(speed: float, stature: float) -> float:
    """The share of a step during which both feet are down: a foot is down for 0.65 of its stride at 0.85 m/s and for
    0.60 at 1.7 (Murray 1967, from memory), by the speed of an adult of 1.7 m that is as quick for the legs.
    """
    same = speed * math.sqrt(1.7 / stature)
    stance = 0.65 - 0.05 * (same - 0.85) / 0.85
    return 2 * min(max(stance, 0.58), 0.72) - 1


def brisk_speed(stature: float) -> float:
    """The fastest that somebody is asked to walk, metres a second."""
    return BRISK * math.sqrt(RUNNING_FROUDE * _GRAVITY * _LEG * stature)


def sprint_speed(stature: float) -> float:
    """The fastest that somebody is asked to run, metres a second."""
    return _SPRINT * math.sqrt(stature / 1.7)


def steps_to_turn(degrees: float) -> int:
    """How many steps a turn on the spot takes: one foot opens, the other closes."""
    return 2 * max(1, math.ceil(abs(degrees) / TURN_A_PAIR - 1e-9)) if abs(degrees) > 1 else 0


def seconds_to_turn(degrees: float, *, hurried: bool = False) -> float:
    """How long a turn on the spot takes."""
    return steps_to_turn(degrees) * (HURRIED_STEP_S if hurried else TURN_STEP_S)


#: Slower than this it is a walk, from here on a run, metres a second; between them it is on the way (common practice).
_RUN_FROM, _RUN_AT = 1.6, RUNS_FROM
#: A landing foot is so much of a stance ahead of the body in a run (methods tried for this, from memory).
RUN_AHEAD = 0.36


def running_share(speed: Floats) -> Floats:
    """(n,) how much of a run a step at some speeds is, of somebody who is to run."""
    u = np.clip((speed - _RUN_FROM) / (_RUN_AT - _RUN_FROM), 0.0, 1.0)
    return np.asarray(u * u * (3 - 2 * u))


def run_steps_a_second(speed: Floats, stature: float) -> Floats:
    """Steps a second of a run: 169, 176 and 186 a minute at 2.4, 3.5 and 5 m/s of an adult (Cavagna 1988, from memory)."""
    return np.asarray((2.55 + 0.11 * np.asarray(speed)) * math.sqrt(1.7 / stature))


def run_both_down(speed: Floats) -> Floats:
    """The share of a step during which both feet are down, less than nothing in a run: a foot is down for 0.40 to 0.20
    of its stride from 1.3 to 5.6 m/s (Cavagna 1988, from memory).
    """
    return np.asarray(2 * np.clip(0.46 - 0.046 * np.asarray(speed), 0.20, 0.40) - 1)


def gait(speed: Floats, stature: float, run: Floats) -> tuple[Floats, Floats]:
    """Metres of a step, and the share of it with both feet down, at (n,) speeds, a share `run` of it a run."""
    walk = np.array([step_length(v, stature) for v in np.maximum(speed, 0.25)])
    stride = np.maximum(speed, 0.8) / run_steps_a_second(speed, stature)
    both = np.array([both_down(v, stature) for v in speed])
    return walk + run * (stride - walk), both + run * (run_both_down(speed) - both)
