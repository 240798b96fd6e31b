"""Mellow Heron's core: the document of a scene, its commands, and what they compute to.

Units: metres and seconds on the stage, millimetres for lens and film back, degrees at
the edges, radians inside, frames as integers. Right-handed, Y up; a camera looks along
its −Z. Nothing here knows of a server, a browser or a database.
"""
