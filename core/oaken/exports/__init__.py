"""What goes out and comes back in: papers, tables, calendars, activities and files of studios."""
