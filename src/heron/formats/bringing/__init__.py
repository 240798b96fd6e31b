"""Files from elsewhere: recognised, read, checked, and written as this product keeps them."""
