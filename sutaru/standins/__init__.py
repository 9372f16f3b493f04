"""Small stand-ins for what stands outside a studio, so that all of it can be tried without a network: a lab."""
