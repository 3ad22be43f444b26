"""Parts that kinds are made of: text, names, addresses, digits."""
