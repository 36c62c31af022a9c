"""Where things are in the checkout."""

from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
EXAMPLES = ("stretcher-legs", "machine-pairs", "scree-and-stairs", "long-carry")
