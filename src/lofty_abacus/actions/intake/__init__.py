"""What files come to: staged, mapped, checked, posted."""
