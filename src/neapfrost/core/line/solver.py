"""One way to the interior-point solver for all lines: sums over steps, with exact derivatives.

Everything asked of a line is a sum, or a condition, over single steps of the road. The derivatives
are therefore taken once, of one step, and put together for all of them; taken of the whole lap at
once they would cost several times what solving it costs.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import casadi as ca
import numpy as np
from scipy.sparse import coo_array

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.errors import LapImpossible

#: A line whose equations are met this well may be driven: half a millimetre a step.
DRIVABLE_WITHIN = 5e-4
#: How well the conditions of a best line are met where a search counts as settled. What is left to
#: be had is a hundred-thousandth of the time, less than the weights that keep a line smooth cost.
SETTLED_WITHIN = 1e-4


@dataclass(frozen=True)
class Strategy:
    """How the solver goes about a search: its way with the barrier, and when it gives up.

    With `promising_by` it does so from that iteration on where the objective is above `above`.
    """

    name: str
    barrier: Literal["loqo", "quality-function", "monotone"] = "loqo"
    iterations_most: int = 150
    seconds_most: float = 60.0
    promising_by: int | None = None
    above: float = np.inf


PLAIN = Strategy("plain")


@dataclass(frozen=True)
class Outcome:
    """How a search ended: settled, or with the best it had; the solver's own word, iterations.

    `barrier` is how hard the bounds still push the line off: the nearer to zero, the nearer the
    line to the best.
    """

    settled: bool
    word: str
    iterations: int
    barrier: float


@dataclass(frozen=True, eq=False)
class Progress:
    """Who is told of each iteration.

    Of its number, the objective, how far the conditions are from being met, and the unknowns.
    """

    tell: Callable[[int, float, float, Floats], None]


class LineImpossible(LapImpossible):
    """No line meets what is asked of it."""


@dataclass(frozen=True, eq=False)
class Step:
    """One step as expressions: unknowns at its two nodes and inside it, and what the road gives.

    `cost` is summed; `equal` must vanish; `limits` may not be positive. Columns of SX.
    """

    first: Any
    last: Any
    inside: Any
    given: Any
    cost: Any
    equal: Any
    limits: Any


@dataclass(frozen=True, eq=False)
class Columns:
    """Values node by node (nodes, a) and step by step (steps, b)."""

    nodes: Floats
    steps: Floats


def solve_steps(
    step: Step,
    given: Floats,
    closed: bool,
    bounds: tuple[Columns, Columns],
    start: Columns,
    progress: Progress | None,
    what: str,
    strategy: Strategy = PLAIN,
) -> tuple[Columns, Outcome]:
    """Least sum of costs with every condition met; on a closed road the last node is the first.

    `given` has a row for each step, `bounds` the least and the largest values. IPOPT (Wächter and
    Biegler, Mathematical Programming 106, 2006). A run that does not settle gives the best
    iteration that met its conditions, and the outcome says so. Raises LineImpossible where none
    did, saying `what` was looked for.
    """
    steps, a, b = len(given), step.first.shape[0], step.inside.shape[0]
    nodes = steps if closed else steps + 1
    places = _places(steps, nodes, a, b, closed)
    count = nodes * a + steps * b
    equal, limits = step.equal.shape[0], step.limits.shape[0]
    problem, functions = _assembled(step, given, places, count)
    ceiling = np.tile(np.concatenate((np.zeros(equal), np.zeros(limits))), steps)
    floor = np.tile(np.concatenate((np.zeros(equal), np.full(limits, -np.inf))), steps)
    options: dict[str, Any] = {
        "print_time": False,
        "ipopt": {
            "print_level": 0,
            "sb": "yes",
            "max_iter": strategy.iterations_most,
            "max_cpu_time": strategy.seconds_most,
            "tol": SETTLED_WITHIN,
            **_BARRIERS[strategy.barrier],
        },
        **functions,
    }
    listener = _Listener(count, floor, ceiling, progress, strategy)
    options["iteration_callback"] = listener
    solver = ca.nlpsol("line", "ipopt", problem, options)
    low, high = _flat(bounds[0]), _flat(bounds[1])
    found = solver(x0=np.clip(_flat(start), low, high), lbx=low, ubx=high, lbg=floor, ubg=ceiling)
    stats = solver.stats()
    word = stats["return_status"].replace("_", " ").lower()
    settled = stats["return_status"] == "Solve_Succeeded"
    barrier = float(stats["iterations"]["mu"][-1]) if stats["iterations"]["mu"] else np.inf
    outcome = Outcome(settled, word, int(stats["iter_count"]), barrier)
    values = np.array(found["x"]).ravel()
    if not settled and listener.best is not None:
        values = listener.best
    elif not settled:
        raise LineImpossible(
            "line",
            f"{what} was not found: the constraints on the line cannot be met on this road "
            f"({word})",
        )
    return columns_of(values, nodes, a, b), outcome


_BARRIERS: dict[str, dict[str, Any]] = {
    "loqo": {"mu_strategy": "adaptive", "mu_oracle": "loqo"},
    "quality-function": {"mu_strategy": "adaptive", "mu_oracle": "quality-function"},
    "monotone": {"mu_strategy": "monotone", "mu_init": 3e-3},
}


def columns_of(values: Floats, nodes: int, a: int, b: int) -> Columns:
    """The solver's one column as values by node and by step."""
    split = nodes * a
    return Columns(values[:split].reshape(nodes, a), values[split:].reshape(-1, b) if b else _NONE)


_NONE = np.empty((0, 0))


def _flat(columns: Columns) -> Floats:
    return np.concatenate((columns.nodes.ravel(), columns.steps.ravel()))


def _violation(g: Floats, floor: Floats, ceiling: Floats) -> float:
    return float(np.maximum(g - ceiling, floor - g).max(initial=0.0))


def _places(steps: int, nodes: int, a: int, b: int, closed: bool) -> Integers:
    """Where each step's own unknowns stand among all of them; shape (steps, 2a + b)."""
    first = np.arange(steps)
    last = (first + 1) % nodes if closed else first + 1
    column = np.arange(a)
    return np.hstack(
        (
            first[:, None] * a + column,
            last[:, None] * a + column,
            nodes * a + first[:, None] * b + np.arange(b),
        )
    ).astype(np.int64)


def _assembled(
    step: Step, given: Floats, places: Integers, count: int
) -> tuple[dict[str, Any], dict[str, Any]]:
    """The whole problem and its derivatives from those of one step."""
    steps = len(given)
    z = ca.vertcat(step.first, step.last, step.inside)
    conditions = ca.vertcat(step.equal, step.limits)
    each = conditions.shape[0]
    weights, weight = ca.SX.sym("lambda", each), ca.SX.sym("sigma")
    jacobian: Any = ca.jacobian(conditions, z)
    hessian: Any = ca.triu(ca.hessian(weight * step.cost + ca.dot(weights, conditions), z)[0])

    one = ca.Function("one", [z, step.given], [step.cost, conditions]).map(steps)
    slope = ca.Function("slope", [z, step.given], [step.cost, ca.gradient(step.cost, z)]).map(steps)
    bend = ca.Function("bend", [z, step.given], [conditions, _entries(jacobian)]).map(steps)
    curve = ca.Function("curve", [z, step.given, weight, weights], [_entries(hessian)]).map(steps)

    x, p = ca.MX.sym("x", count), ca.MX.sym("p", 0)
    sigma, lam = ca.MX.sym("sigma"), ca.MX.sym("lam", each * steps)
    own = ca.reshape(x[places.ravel().tolist()], places.shape[1], steps)
    table = ca.DM(given.T)
    cost, g = one(own, table)
    cost_again, gradient = slope(own, table)
    g_again, slopes = bend(own, table)
    curves = curve(own, table, ca.repmat(sigma, 1, steps), ca.reshape(lam, each, steps))

    gathered = _gathering(places.ravel(), np.zeros(places.size, dtype=np.int64), count, 1)
    rows, columns = (np.array(part) for part in jacobian.sparsity().get_triplet())
    jacobian_places = _gathering(
        (np.arange(steps)[:, None] * each + rows).ravel(),
        places[:, columns].ravel(),
        each * steps,
        count,
    )
    rows, columns = (np.array(part) for part in hessian.sparsity().get_triplet())
    at_row, at_column = places[:, rows].ravel(), places[:, columns].ravel()
    hessian_places = _gathering(
        np.minimum(at_row, at_column), np.maximum(at_row, at_column), count, count
    )
    functions = {
        "grad_f": ca.Function(
            "grad_f",
            [x, p],
            [ca.sum2(cost_again), ca.densify(_put(gathered, gradient))],
            ["x", "p"],
            ["f", "grad_f_x"],
        ),
        "jac_g": ca.Function(
            "jac_g",
            [x, p],
            [ca.vec(g_again), _put(jacobian_places, slopes)],
            ["x", "p"],
            ["g", "jac_g_x"],
        ),
        "hess_lag": ca.Function(
            "hess_lag",
            [x, p, sigma, lam],
            [_put(hessian_places, curves)],
            ["x", "p", "lam_f", "lam_g"],
            ["triu_hess_gamma_x_x"],
        ),
    }
    return {"x": x, "p": p, "f": ca.sum2(cost), "g": ca.vec(g)}, functions


def _entries(matrix: Any) -> Any:
    """The entries that are not zero by structure, as one column."""
    return ca.vertcat(*matrix.nonzeros()) if matrix.nnz() else ca.SX(0, 1)


def _gathering(rows: Integers, columns: Integers, height: int, width: int) -> tuple[Any, Any]:
    """Sparsity of the whole, and the matrix that sums single entries into its own."""
    keys, target = np.unique(columns * height + rows, return_inverse=True)
    whole = ca.Sparsity.triplet(height, width, (keys % height).tolist(), (keys // height).tolist())
    sums = coo_array(
        (np.ones(len(target)), (target, np.arange(len(target)))), (len(keys), len(target))
    ).tocsc()
    pattern = ca.Sparsity(len(keys), len(target), sums.indptr.tolist(), sums.indices.tolist())
    return whole, ca.DM(pattern, sums.data)


def _put(gathering: tuple[Any, Any], entries: Any) -> Any:
    whole, sums = gathering
    return ca.MX(whole, ca.mtimes(sums, ca.vec(entries)))


class _Listener(ca.Callback):
    """Keeps the best iteration that may be driven, and hands each on to whoever watches."""

    def __init__(
        self,
        unknowns: int,
        floor: Floats,
        ceiling: Floats,
        progress: Progress | None,
        strategy: Strategy,
    ) -> None:
        ca.Callback.__init__(self)
        conditions = len(floor)
        self._sizes = {"x": unknowns, "f": 1, "g": conditions}
        self._sizes |= {"lam_x": unknowns, "lam_g": conditions}
        self._floor, self._ceiling = floor, ceiling
        self._progress, self._strategy = progress, strategy
        self._number = 0
        self._least = np.inf
        self.best: Floats | None = None
        self.construct("listener", {})

    def get_n_in(self) -> int:
        return int(ca.nlpsol_n_out())

    def get_n_out(self) -> int:
        return 1

    def get_name_in(self, index: int) -> str:
        return str(ca.nlpsol_out(index))

    def get_sparsity_in(self, index: int) -> Any:
        size = self._sizes.get(str(ca.nlpsol_out(index)), 0)
        return ca.Sparsity.dense(size, 1) if size else ca.Sparsity(0, 0)

    def eval(self, arguments: Sequence[Any]) -> list[int]:
        given = {str(ca.nlpsol_out(i)): value for i, value in enumerate(arguments)}
        self._number += 1
        violation = _violation(np.array(given["g"]).ravel(), self._floor, self._ceiling)
        values = np.array(given["x"]).ravel()
        objective = float(given["f"])
        if violation <= DRIVABLE_WITHIN and objective < self._least:
            self._least, self.best = objective, values
        if self._progress is not None:
            self._progress.tell(self._number, objective, violation, values)
        due = self._strategy.promising_by
        late = due is not None and self._number >= due and objective > self._strategy.above
        return [1 if late else 0]
