"""Files as they would come from elsewhere, made by rule: for the demo and for tests."""
