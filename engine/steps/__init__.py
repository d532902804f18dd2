"""The order of the work: what is done, what comes next, what must wait and for what, and who does what when."""
