"""Mellow Heron's server: rows, transactions and an API round the core."""
