"""What changes a class for the better: adjustments, goals, first classes, generated classes and the review."""
