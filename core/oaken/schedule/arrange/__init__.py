"""Arranging people over shared machines: the best rotation, its replay with chance, its repair, and what-if."""
