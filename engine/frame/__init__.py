"""What carries the mounts: does the chassis bear it.

Node, member   of the document's frame; `assembled` cuts members where mounts stand on them into elements.
Mount          a station's chassis point, on a stiff arm from the place that carries it.
Load case      what comes to every mount at once, N, on the chassis; from the stations' own load cases.
Loose          a way in which a part can move with nothing holding it.
Axes           the vehicle's: x forward, y left, z up; N, mm, N·mm, N/mm².
"""
