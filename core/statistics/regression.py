"""Several facts held at once: Firth's penalised logistic regression, for many outcomes with one set of facts."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import chdtrc, chdtri, expit

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]

_ROUNDS, _CLOSE, _STEP = 60, 1e-8, 5.0
_SEPARATED = 12.0
"""A fitted log odds beyond this, still growing, is a sign of separation."""


@dataclass(frozen=True)
class Fit:
    """Of each outcome (rows,): ``beta`` (rows, parameters), ``information`` (rows, parameters, parameters) and the largest
    penalised log likelihood; ``converged`` (rows,)."""

    beta: Floats
    information: Floats
    likelihood: Floats
    converged: Bools


def firth(design: npt.ArrayLike, outcomes: npt.ArrayLike, free: npt.ArrayLike | None = None) -> Fit:
    """Maximise the log likelihood plus half the log determinant of the information (Jeffreys' prior).

    ``design`` (people, parameters), its constant included, of full rank; ``outcomes`` (rows, people) truth; ``free``
    (parameters,) truth: the others are held at 0, the penalty staying that of the whole design.
    Source: Firth 1993, *Biometrika* 80; Heinze & Schemper 2002, *Statistics in Medicine* 21.
    """
    x, y = np.asarray(design, float), np.atleast_2d(np.asarray(outcomes, float))
    moving = np.ones(x.shape[1], bool) if free is None else np.asarray(free, bool)
    beta = np.zeros((len(y), x.shape[1]))
    likelihood, score, information = _at(x, y, beta)
    converged = np.zeros(len(y), bool)
    for _ in range(_ROUNDS):
        step = np.zeros_like(beta)
        step[:, moving] = np.linalg.solve(information[:, moving][:, :, moving], score[:, moving, None])[:, :, 0]
        converged = (np.abs(score[:, moving]).max(axis=1, initial=0) < 1e-7) | (np.abs(step).max(axis=1) < _CLOSE)
        if converged.all():
            break
        beta, likelihood, score, information = _moved(x, y, beta, _short(step), likelihood)
    return Fit(beta, information, likelihood, converged)


def _short(step: Floats) -> Floats:
    longest = np.abs(step).max(axis=1, keepdims=True)
    return step * np.minimum(1, _STEP / np.maximum(longest, 1e-12))


def _moved(
    x: Floats, y: Floats, beta: Floats, step: Floats, likelihood: Floats
) -> tuple[Floats, Floats, Floats, Floats]:
    """A step, halved row by row as long as it leads down."""
    size = np.ones((len(y), 1))
    for _ in range(12):
        found, score, information = _at(x, y, beta + size * step)
        worse = ~(found >= likelihood - 1e-10)
        if not worse.any():
            break
        size = np.where(worse[:, None], size / 2, size)
    return beta + size * step, found, score, information


def _at(x: Floats, y: Floats, beta: Floats) -> tuple[Floats, Floats, Floats]:
    """Penalised log likelihood (rows,), its modified score (rows, parameters), and the information."""
    people, parameters = x.shape
    log_odds = beta @ x.T
    share = expit(log_odds)
    weight = share * (1 - share)
    products = (x[:, :, None] * x[:, None, :]).reshape(people, -1)
    information = (weight @ products).reshape(len(y), parameters, parameters)
    sign, determinant = np.linalg.slogdet(information)
    inverse = np.linalg.inv(np.where((sign > 0)[:, None, None], information, np.eye(parameters)))
    leverage = weight * (inverse.reshape(len(y), -1) @ products.T)
    score = (y - share + leverage * (0.5 - share)) @ x
    plain = (y * log_odds - np.logaddexp(0, log_odds)).sum(axis=1)
    return np.where(sign > 0, plain + determinant / 2, -np.inf), score, information


@dataclass(frozen=True)
class Profile:
    """``low`` and ``high`` of each outcome's parameter, (rows,); infinite where no end was found."""

    low: Floats
    high: Floats


def profile(design: npt.ArrayLike, outcomes: npt.ArrayLike, fit: Fit, parameter: int, level: float = 0.95) -> Profile:
    """Profile penalised likelihood interval of one parameter.

    Source: Heinze & Schemper 2002, 3.2; the search: Venzon & Moolgavkar 1988, *Applied Statistics* 37.
    """
    x, y = np.asarray(design, float), np.atleast_2d(np.asarray(outcomes, float))
    target = fit.likelihood - chdtri(1, 1 - level) / 2
    ends = [_end(x, y, fit, parameter, target, direction) for direction in (-1.0, 1.0)]
    return Profile(ends[0], ends[1])


def _end(x: Floats, y: Floats, fit: Fit, parameter: int, target: Floats, direction: float) -> Floats:
    """Where the profile falls to the target: first by Venzon and Moolgavkar's steps, then, where these don't settle, by
    halving a bracket with all other parameters fitted anew."""
    beta = fit.beta.copy()
    likelihood, score, information = _at(x, y, beta)
    settled = np.zeros(len(y), bool)
    for _ in range(_ROUNDS):
        covariance = np.linalg.inv(information)
        quadratic = np.einsum("ri,rij,rj->r", score, covariance, score)
        under = 2 * (likelihood - target + quadratic / 2) / covariance[:, parameter, parameter]
        push = direction * np.sqrt(np.maximum(under, 0))
        pulled = score.copy()
        pulled[:, parameter] += push
        step = _short(np.einsum("rij,rj->ri", covariance, pulled) * ~settled[:, None])
        beta = beta + step
        likelihood, score, information = _at(x, y, beta)
        others = np.abs(np.delete(score, parameter, axis=1)).max(axis=1, initial=0)
        settled = (np.abs(likelihood - target) < 1e-6) & (others < 1e-4)
        if settled.all() or not np.isfinite(likelihood).all():
            break
    away = (beta[:, parameter] - fit.beta[:, parameter]) * direction > 0
    found = np.where(settled & away, beta[:, parameter], np.nan)
    for row in np.flatnonzero(np.isnan(found)).tolist():
        found[row] = _bracketed(
            x, y[row : row + 1], float(fit.beta[row, parameter]), parameter, float(target[row]), direction
        )
    return found


def _bracketed(x: Floats, y: Floats, start: float, parameter: int, target: float, direction: float) -> float:
    near, far = start, start
    for reach in (1.0, 2.0, 4.0, 8.0, 16.0, 32.0):
        far = start + direction * reach
        if _profiled(x, y, parameter, far) < target:
            break
        near = far
    else:
        return direction * np.inf
    for _ in range(40):
        middle = (near + far) / 2
        near, far = (near, middle) if _profiled(x, y, parameter, middle) < target else (middle, far)
    return (near + far) / 2


def _profiled(x: Floats, y: Floats, parameter: int, value: float) -> float:
    """The largest penalised likelihood with one parameter held at a value."""
    moving = np.arange(x.shape[1]) != parameter
    beta = np.zeros((1, x.shape[1]))
    beta[0, parameter] = value
    likelihood, score, information = _at(x, y, beta)
    for _ in range(_ROUNDS):
        step = np.zeros_like(beta)
        step[:, moving] = np.linalg.solve(information[:, moving][:, :, moving], score[:, moving, None])[:, :, 0]
        if np.abs(score[:, moving]).max(initial=0) < 1e-7:
            break
        beta, likelihood, score, information = _moved(x, y, beta, _short(step), likelihood)
    return float(likelihood[0])


def tested(
    design: npt.ArrayLike, outcomes: npt.ArrayLike, fit: Fit, parameters: npt.ArrayLike
) -> tuple[Floats, Floats]:
    """Penalised likelihood ratio test of several parameters at once: statistic and p, (rows,) each; as many degrees of
    freedom as parameters. Source: Heinze & Schemper 2002, 3.2."""
    held = np.asarray(parameters, np.int64)
    free = np.ones(np.asarray(design).shape[1], bool)
    free[held] = False
    without = firth(design, outcomes, free)
    statistic = np.maximum(2 * (fit.likelihood - without.likelihood), 0)
    return statistic, chdtrc(len(held), statistic)


def separated(design: npt.ArrayLike, outcomes: npt.ArrayLike) -> Bools:
    """Whether some combination of the facts parts those who mention from those who don't, so that plain maximum likelihood
    has no end, (rows,). Source: Albert & Anderson 1984, *Biometrika* 71 (what it is); told here by the likelihood still
    rising while fitted shares reach 0 or 1 (common practice)."""
    x, y = np.asarray(design, float), np.atleast_2d(np.asarray(outcomes, float))
    beta = np.zeros((len(y), x.shape[1]))
    products = (x[:, :, None] * x[:, None, :]).reshape(len(x), -1)
    for _ in range(25):
        share = expit(beta @ x.T)
        information = ((share * (1 - share)) @ products).reshape(len(y), x.shape[1], x.shape[1])
        information += np.eye(x.shape[1]) * 1e-9
        step = np.linalg.solve(information, ((y - share) @ x)[:, :, None])[:, :, 0]
        beta = beta + _short(step)
    found: Bools = np.abs(beta @ x.T).max(axis=1) > _SEPARATED
    return found


def standardised(design: npt.ArrayLike, fit: Fit, as_group: list[Floats]) -> Floats:
    """The share each group would have if everybody were of it, their other facts being as they are, (rows, groups).

    ``as_group`` holds, for each group, what the design's group columns would be, (parameters,) with NaN for the columns
    that stay. Source: marginal standardisation, Lane & Nelder 1982, *Biometrics* 38.
    """
    x = np.asarray(design, float)
    shares = []
    for columns in as_group:
        moved = np.where(np.isnan(columns)[None, :], x, columns[None, :])
        shares.append(expit(fit.beta @ moved.T).mean(axis=1))
    return np.stack(shares, axis=1)
