"""Stand-ins for what a shop reads and asks: small simulations that ship with the application."""
