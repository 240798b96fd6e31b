"""Pictures that leave the desk: which frames are drawn, what each depends on and is called, and the list of shots."""
