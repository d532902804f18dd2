"""Every arrangement that can be started from, in the order in which one would look at them."""

from engine.document.read import check_project
from engine.errors import DocumentRefused, EngineError
from engine.layouts import axles, corners
from engine.layouts.fit import fitted
from engine.layouts.layout import Brief, Layout, Values

ROCKER_FINDINGS = ("rod_square_at_ride", "rod_near_centre", "joint_tilt", "first_in_bump", "first_in_droop")
AXLE_FINDINGS = ("over_constrained", "first_in_bump", "first_in_droop", "tyre_to_structure")
AIR_FINDINGS = ("bag_pressure", "bag_min_height", "bag_max_height", "bag_to_anything", "first_in_droop")

LAYOUTS: tuple[Layout, ...] = (
    Layout(
        name="trailing-arm",
        title="Trailing arm, coilover on the arm",
        moves="The arm swings on one hinge ahead of the wheel; the coilover stands on it.",
        room="height above the arm; little width",
        draw=corners.trailing_arm_coilover,
    ),
    Layout(
        name="wishbones-lower",
        title="Wishbones, coilover on the lower arm",
        moves="Two arms carry the upright; the coilover passes the upper arm to the frame.",
        room="height beside the tyre, and a gap through the upper arm",
        draw=corners.wishbones_lower,
    ),
    Layout(
        name="wishbones-upper",
        title="Wishbones, coilover on the upper arm",
        moves="As before, but on the upper arm, clear of the half shaft.",
        room="much height above the upper arm",
        draw=corners.wishbones_upper,
    ),
    Layout(
        name="wishbones-upright",
        title="Wishbones, coilover on the upright",
        moves="The coilover stands on the upright itself: nearly all of the wheel's travel goes into it.",
        room="height and width beside the tyre; it steers with the wheel",
        draw=corners.wishbones_upright,
    ),
    Layout(
        name="pushrod",
        title="Wishbones, pushrod and rocker",
        moves="A rod pushes a rocker on the frame, and the rocker presses the coilover across the car.",
        room="inboard, above the arms",
        draw=corners.pushrod,
        findings=ROCKER_FINDINGS,
    ),
    Layout(
        name="pullrod",
        title="Wishbones, pullrod and low rocker",
        moves="A rod from the upper arm pulls a rocker low in the frame.",
        room="inboard and low; ground clearance under the rocker",
        draw=corners.pullrod,
        findings=ROCKER_FINDINGS,
    ),
    Layout(
        name="cantilever-arm",
        title="Cantilever upper arm",
        moves="The upper arm reaches past its pivot and presses the coilover itself.",
        room="inboard of the upper pivot",
        draw=corners.cantilever_arm,
    ),
    Layout(
        name="five-link",
        title="Five links, pushrod off the upright",
        moves="Five single links hold the upright; the pushrod starts on the upright and turns a rocker.",
        room="inboard, above the links",
        draw=corners.five_link,
        findings=(*ROCKER_FINDINGS, "shaft_angle"),
    ),
    Layout(
        name="strut-adapter",
        title="Donor strut with another shock on adapters",
        moves="The strut guides the wheel as before; a shorter shock is made up to length at top and bottom.",
        room="height above the wheel",
        draw=corners.strut,
    ),
    Layout(
        name="swing-beam",
        title="Swing beam, spring and long shock apart",
        moves="A beam swings about a bush beyond the centreline; spring on the beam, shock up to a hoop.",
        room="across the car under the engine; height for the hoop",
        draw=corners.swing_beam,
    ),
    Layout(
        name="single-rear",
        title="Single rear wheel, shock on the arm",
        moves="One wheel on a swinging arm; the shock stands straight on it.",
        room="in the middle of the car, ahead of the tyre",
        draw=corners.single_rear_direct,
    ),
    Layout(
        name="single-rear-drop-link",
        title="Single rear wheel, drop link and rocker",
        moves="A drop link pulls a rocker below the arm, which presses the shock.",
        room="in the middle of the car, low",
        draw=corners.single_rear_drop_link,
        findings=ROCKER_FINDINGS,
    ),
    Layout(
        name="crossed-coilovers",
        title="Crossed coilovers, one fore and one aft",
        moves="Each coilover lies across the car to the far side; one passes ahead of the other.",
        room="across the car above the arms; none beside the tyres",
        draw=corners.crossed,
        findings=("across_the_car", "first_in_bump", "first_in_droop"),
    ),
    Layout(
        name="arm-on-air",
        title="Trailing arm on a bag",
        moves="A bag on the arm carries; a damper beside it must never be left off.",
        room="width for the bag at its largest",
        draw=corners.arm_on_air,
        findings=AIR_FINDINGS,
    ),
    Layout(
        name="axle-four-link",
        title="Live axle, triangulated four-link, coilovers upright",
        moves="Two lower links and two splayed upper ones place the axle; coilovers stand on the tube.",
        room="height above the tube inside the tyres",
        draw=axles.four_link_triangulated,
        findings=AXLE_FINDINGS,
    ),
    Layout(
        name="axle-four-link-lateral",
        title="Live axle, parallel four-link with lateral link, coilovers leaning",
        moves="Four parallel links and a link across; it twists its bushes in articulation.",
        room="behind the tube for the lateral link",
        draw=axles.four_link_parallel,
        findings=AXLE_FINDINGS,
    ),
    Layout(
        name="axle-three-link",
        title="Live axle, three links, coilovers ahead on the arms",
        moves="Two lower arms, one upper link and a link across; coilovers ahead of the axle, softer and with more stroke.",
        room="ahead of the axle, above the arms",
        draw=axles.three_link_ahead,
        findings=AXLE_FINDINGS,
    ),
    Layout(
        name="axle-cantilever",
        title="Live axle, rods to rockers on the rails",
        moves="A rod from the axle turns a rocker on each rail; the dampers lie along the frame.",
        room="above the rails, along the frame",
        draw=axles.cantilever_axle,
        findings=(*ROCKER_FINDINGS, *AXLE_FINDINGS),
    ),
    Layout(
        name="axle-on-air",
        title="Live axle on bags with separate dampers",
        moves="Bags on the tube carry; dampers stand behind it.",
        room="width inside the tyres for the bags at their largest",
        draw=axles.axle_on_air,
        findings=(*AIR_FINDINGS, *AXLE_FINDINGS),
    ),
)


class NoSuchLayout(EngineError, KeyError):
    """A layout asked for by a name that none has."""

    code = "no_such_layout"

    def __init__(self, name: str) -> None:
        self.name = name
        EngineError.__init__(
            self, f'No layout is called "{name}". Ask for one of: {", ".join(x.name for x in LAYOUTS)}.'
        )

    def __str__(self) -> str:
        return str(self.args[0])


def layout_named(name: str) -> Layout:
    """Return a layout by name; raise NoSuchLayout."""
    for layout in LAYOUTS:
        if layout.name == name:
            return layout
    raise NoSuchLayout(name)


class LayoutDoesNotFit(EngineError, ValueError):
    """An arrangement that cannot be drawn at the size that a brief asks for."""

    code = "layout_does_not_fit"

    def __init__(self, layout: Layout, why: str) -> None:
        self.layout, self.why = layout.name, why
        super().__init__(
            f"{layout.title}: this does not go together at that size ({why}). "
            "Ask for less travel, a smaller wheel or a wider track, or choose another arrangement."
        )


def starting_project(layout: Layout, brief: Brief | None = None) -> Values:
    """Return a whole project file for an arrangement, in the right place and size for a brief.

    Raises LayoutDoesNotFit where the arrangement cannot be drawn, moved or sprung at that size.
    """
    brief = brief or Brief()
    try:
        stations = [fitted(draft, brief) for draft in layout.draw(brief)]
    except EngineError as error:
        raise LayoutDoesNotFit(layout, str(error).splitlines()[0].rstrip(".")) from error
    except (ValueError, ArithmeticError, IndexError) as error:
        raise LayoutDoesNotFit(layout, "its parts meet or miss one another") from error
    project = {
        "format": "jugatrix-project",
        "version": 1,
        "name": layout.title,
        "layout": layout.name,
        "stations": stations,
    }
    try:
        check_project(project)
    except DocumentRefused as refused:
        raise LayoutDoesNotFit(layout, str(refused.faults[0])) from refused
    return project
