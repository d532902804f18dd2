"""One corner or axle on its springs: its rows, where it stands, and what ends its travel.

at_wheel     lengths, ratios and slopes in; force, rate and pressure out: asked by all that stands on it
traces       units and wheels at solved positions
rows         a linkage on its path, asked for rows at any travel
equilibrium  where it carries its weight, and with which air
ends         what ends the travel, each way
solved       all of it together
"""
