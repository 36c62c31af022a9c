"""Recorded heart rates: reading them, and fitting people's own constants to them."""
