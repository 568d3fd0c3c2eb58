"""How a face looks, and what would look better."""
