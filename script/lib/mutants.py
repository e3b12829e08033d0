"""Samples small faults in a package of core and runs the tests that name it against each.

A fault is one change of one figure, sign, comparison, operator or condition. Docstrings, types, words for people and
module constants that only name things are left alone. Tests run on a copy, so that the checkout is never broken.
"""

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parents[2]
TIMEOUT_S = 900
SWAPS = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.Pow: ast.Mult,
    ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip
SKIPPED = (ast.JoinedStr, ast.Raise, ast.Import, ast.ImportFrom)


class Faults(ast.NodeTransformer):
    """Counts the places where a fault can be made; makes the one of number `wanted`, if any, as `rng` chooses."""

    def __init__(self, rng: random.Random, wanted: int | None = None) -> None:
        self.wanted, self.rng, self.found, self.words = wanted, rng, 0, ""

    def _here(self, node: ast.AST, words: str) -> bool:
        self.found += 1
        if self.found - 1 != self.wanted:
            return False
        self.words = f"line {node.lineno}: {words}"
        return True

    def visit(self, node: ast.AST) -> ast.AST:
        if isinstance(node, SKIPPED) or (isinstance(node, ast.keyword) and node.arg == "strict"):
            return node
        if isinstance(node, ast.FunctionDef | ast.AnnAssign | ast.arg):
            for name in ("returns", "annotation"):
                kept = getattr(node, name, None)
                if kept is not None:
                    setattr(node, name, None)
                    self.generic_visit(node)
                    setattr(node, name, kept)
                    return node
        return super().visit(node)

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        value = node.value
        if not isinstance(value, int | float) or not self._here(node, f"{value} is another"):
            return node
        if isinstance(value, bool):
            new: float = not value
        elif isinstance(value, int):
            new = value + self.rng.choice([1, -1])
        else:
            new = value * self.rng.choice([1.3, 0.7]) or 0.5
        self.words = f"line {node.lineno}: {value} is {new}"
        return ast.copy_location(ast.Constant(new), node)

    def _swapped(self, node: ast.AST, op: ast.AST) -> ast.AST | None:
        other = SWAPS.get(type(op))
        words = f"{type(op).__name__} is {other.__name__}" if other else ""
        return other() if other and self._here(node, words) else None

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        return self._below(node)

    def visit_ClassDef(self, node: ast.ClassDef) -> ast.AST:
        return self._below(node)

    def _below(self, node: ast.FunctionDef | ast.ClassDef) -> ast.AST:
        # What stands above a function or a class, such as the size of a cache, changes no answer.
        kept, node.decorator_list = node.decorator_list, []
        self.generic_visit(node)
        node.decorator_list = kept
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        node.op = self._swapped(node, node.op) or node.op
        return node

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        self.generic_visit(node)
        node.op = self._swapped(node, node.op) or node.op
        return node

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        node.ops = [self._swapped(node, op) or op for op in node.ops]
        return node

    def visit_UnaryOp(self, node: ast.UnaryOp) -> ast.AST:
        self.generic_visit(node)
        if isinstance(node.op, ast.USub | ast.Not) and self._here(node, f"{type(node.op).__name__} is gone"):
            return node.operand
        return node


def broken(source: str, rng: random.Random) -> tuple[str, str] | None:
    """The source with one fault, and the fault in words; None where none can be made."""
    tree = ast.parse(source)
    counted = Faults(rng)
    counted.visit(copy.deepcopy(tree))
    if not counted.found:
        return None
    fault = Faults(rng, rng.randrange(counted.found))
    made = fault.visit(tree)
    return ast.unparse(ast.fix_missing_locations(made)), fault.words


def tests_of(package: str) -> list[str]:
    """Test files that import something of the package; those on simulated photos among them."""
    files = [f for folder in ("core", "bench") for f in ROOT.glob(f"tests/{folder}/test_*.py")]
    return sorted(str(f.relative_to(ROOT)) for f in files if f"keencoat.core.{package}" in f.read_text())


def survives(number: int, module: Path, text: str, tests: list[str]) -> bool:
    """Whether all tests, the module's own examples among them, pass on a copy with the fault in it."""
    with tempfile.TemporaryDirectory(prefix=f"fault-{number}-") as folder:
        shutil.copytree(ROOT / "src", f"{folder}/src", ignore=shutil.ignore_patterns("__pycache__"))
        (Path(folder) / "src" / module).write_text(text)
        env = os.environ | {"PYTHONPATH": f"{folder}/src{os.pathsep}{ROOT}", "PYTHONDONTWRITEBYTECODE": "1"}
        env["KEENCOAT_PROFILE"] = "faults"
        name = ".".join(module.with_suffix("").parts)
        # Those that name the module first: most faults end there. Photos take minutes.
        tests = sorted(
            tests, key=lambda t: ("/bench/" in t, name not in (ROOT / t).read_text(), (ROOT / t).stat().st_size)
        )
        command = [
            sys.executable, "-m", "pytest", "-p", "no:django", "-p", "no:cacheprovider", "-x", "-q",
            "-o", "pythonpath=", "--doctest-modules", f"{folder}/src/{module}", *tests,
        ]  # fmt: skip
        try:
            done = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, timeout=TIMEOUT_S, check=False)
        except subprocess.TimeoutExpired:
            return False
    return done.returncode == 0


def main(package: str, count: int = 40, seed: int = 1) -> None:
    rng = random.Random(seed)
    modules = [p for p in sorted((ROOT / "src/keencoat/core" / package).rglob("*.py")) if p.read_text().strip()]
    weights = [len(p.read_text()) for p in modules]
    tests, faults = tests_of(package), []
    whole = modules[0]
    if not survives(-1, whole.relative_to(ROOT / "src"), whole.read_text(), tests):
        sys.exit("The tests fail without any fault: mend them first.")
    while len(faults) < count:
        module = rng.choices(modules, weights)[0]
        if made := broken(module.read_text(), rng):
            faults.append((module.relative_to(ROOT / "src"), *made))
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        jobs = [pool.submit(survives, n, m, text, tests) for n, (m, text, _) in enumerate(faults)]
        left = [f"{m}: {words}" for (m, _, words), job in zip(faults, jobs, strict=True) if job.result()]
    print(*left, sep="\n")
    print(f"{package}: {len(left)} of {count} faults were seen by none of {', '.join(tests)}")


if __name__ == "__main__":
    main(sys.argv[1], *(int(a) for a in sys.argv[2:]))
