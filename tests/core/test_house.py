"""The house as docs/house.md shows it, where import-linter cannot tell: what is inside a folder stays there."""

import ast
from collections import Counter
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src"
CORE = SOURCE / "keencoat/core"


def imports(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("keencoat.core."):
            yield node.module


def is_inside(module, folder):
    """Whether a module of core lies in a folder of it, other than as its face."""
    target = SOURCE / module.replace(".", "/")
    return target.with_suffix(".py").exists() and target.parent != CORE and folder not in target.parents


def test_others_use_a_folder_of_core_by_its_face():
    deep = {}
    for path in SOURCE.rglob("*.py"):
        inside = path.relative_to(CORE).parts[:1] if CORE in path.parents else ("elsewhere",)
        found = [module for module in imports(path) if is_inside(module, CORE.joinpath(*inside))]
        if found:
            deep[str(path.relative_to(SOURCE))] = found
    assert deep == {}


def test_a_face_says_all_that_it_shows():
    for face in CORE.rglob("__init__.py"):
        tree = ast.parse(face.read_text())
        shown = {a.name for n in tree.body if isinstance(n, ast.ImportFrom) for a in n.names}
        said = [n for n in tree.body if isinstance(n, ast.Assign) and n.targets[0].id == "__all__"]
        if said:
            assert shown == set(ast.literal_eval(said[0].value)), face
            assert ast.get_docstring(tree)


def test_modules_have_one_job():
    """About 400 lines at most, tests among them."""
    long = {
        str(p.relative_to(SOURCE.parent)): lines
        for where in ("src", "tests", "script")
        for p in (SOURCE.parent / where).rglob("*.py")
        if "migrations" not in p.parts and (lines := len(p.read_text().splitlines())) > 420
    }
    assert long == {}


def test_no_two_things_of_core_share_a_name():
    named = Counter(
        node.name
        for module in CORE.rglob("*.py")
        for node in ast.walk(ast.parse(module.read_text()))
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    )
    assert [name for name, times in named.items() if times > 1] == []
