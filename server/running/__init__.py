"""The live class: its events to every screen, the wall, hearts while it runs, and what can be done on the spot."""
