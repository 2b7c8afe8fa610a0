"""What can be done by command line: a file for each command or two, loaded when it is called."""
