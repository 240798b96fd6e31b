"""What was brought in: files kept by their content, read by processes of their own, and where they are used."""
