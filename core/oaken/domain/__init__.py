"""What a class is made of: what is done, on what, where and by whom."""
