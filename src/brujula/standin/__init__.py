"""A small simulated CRM service, to load into and to test against: `python -m brujula.standin --port 8077`."""
