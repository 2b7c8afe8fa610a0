"""What goes on by itself: long work in the background, and what is done again and again."""
