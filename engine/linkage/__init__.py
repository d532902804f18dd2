"""One mechanism solver for every linkage that the project file can hold."""
