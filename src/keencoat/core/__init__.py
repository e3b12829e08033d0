"""The computation of Keen Coat: pure Python, no Django, no I/O but bytes in and bytes out.

The folders follow the work: substrate → coat → piece → grid → toolpath → window → safety,
all of them on `quantities`.
"""
