"""A fit as text, for whoever wants to see all of it: what it rests on, and each parameter before and after."""

import numpy as np

from keencoat.core.window.fit import WindowFit
from keencoat.core.window.parameters import MEANING, P
from keencoat.core.window.scatter import basis_words

_HEAD = f"{'parameter':<14}{'before':>16}{'after':>16}{'5 %':>9}{'95 %':>9}  what it is"


def fit_report(fit: WindowFit) -> str:
    """Status, evidence, and a line a parameter: mean ± sd before the first cell and after the last, with its range.

    Units are those of `parameters.MEANING`: logarithms, exponents and shares.
    """
    mean, root = fit.prior.gaussian
    sd = np.linalg.norm(root, axis=1)
    low, high = np.quantile(fit.draws, [0.05, 0.95], axis=0)
    after, spread = fit.draws.mean(axis=0), fit.draws.std(axis=0)
    pieces = len({o.piece for o in fit.observations})
    lines = [
        f"Window fit, model {fit.model_version}: {fit.status}. {fit.message}",
        f"{len(fit.observations)} cells on {pieces} pieces, {fit.run_pieces} pieces of runs; "
        f"surprise {fit.surprise:.2f} nats a cell; prior from {fit.prior.source}",
        basis_words(fit.prior.scatter, fit.run_pieces),
        "",
        _HEAD,
    ]
    lines += [
        f"{p.name.lower():<14}{mean[p]:>8.2f} ± {sd[p]:<5.2f}{after[p]:>8.2f} ± {spread[p]:<5.2f}"
        f"{low[p]:>9.2f}{high[p]:>9.2f}  {MEANING[p]}"
        for p in P
    ]
    return "\n".join(lines)
