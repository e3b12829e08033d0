"""The practice bench: simulated room and camera, marked as such wherever they show.

A plant of its own physics: it never imports `keencoat.core.window` or the measuring code, and core never imports it.
"""
