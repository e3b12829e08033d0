"""The computation of Keen Coat: pure Python, no Django, no I/O but bytes in and bytes out.

No two folders import each other; pyproject.toml names who stands on whom, docs/house.md what each holds.
"""
