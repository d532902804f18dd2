"""Design study: the mounts, rockers and springs of all stations varied together against the vehicle's wishes."""
