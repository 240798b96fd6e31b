"""What is handed over to the people down the line: files, folders, and a record of each time."""
