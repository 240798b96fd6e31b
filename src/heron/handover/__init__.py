"""What is handed over: which files, for whom, under which names, and all that a scene is made of as one package."""
