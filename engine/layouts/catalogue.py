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
        "trailing-arm",
        "Trailing arm, coilover on the arm",
        "The arm swings on one hinge ahead of the wheel; the coilover stands on it.",
        "height above the arm; little width",
        corners.trailing_arm_coilover,
    ),
    Layout(
        "wishbones-lower",
        "Wishbones, coilover on the lower arm",
        "Two arms carry the upright; the coilover passes the upper arm to the frame.",
        "height beside the tyre, and a gap through the upper arm",
        corners.wishbones_lower,
    ),
    Layout(
        "wishbones-upper",
        "Wishbones, coilover on the upper arm",
        "As before, but on the upper arm, clear of the half shaft.",
        "much height above the upper arm",
        corners.wishbones_upper,
    ),
    Layout(
        "wishbones-upright",
        "Wishbones, coilover on the upright",
        "The coilover stands on the upright itself: nearly all of the wheel's travel goes into it.",
        "height and width beside the tyre; it steers with the wheel",
        corners.wishbones_upright,
    ),
    Layout(
        "pushrod",
        "Wishbones, pushrod and rocker",
        "A rod pushes a rocker on the frame, and the rocker presses the coilover across the car.",
        "inboard, above the arms",
        corners.pushrod,
        findings=ROCKER_FINDINGS,
    ),
    Layout(
        "pullrod",
        "Wishbones, pullrod and low rocker",
        "A rod from the upper arm pulls a rocker low in the frame.",
        "inboard and low; ground clearance under the rocker",
        corners.pullrod,
        findings=ROCKER_FINDINGS,
    ),
    Layout(
        "cantilever-arm",
        "Cantilever upper arm",
        "The upper arm reaches past its pivot and presses the coilover itself.",
        "inboard of the upper pivot",
        corners.cantilever_arm,
    ),
    Layout(
        "five-link",
        "Five links, pushrod off the upright",
        "Five single links hold the upright; the pushrod starts on the upright and turns a rocker.",
        "inboard, above the links",
        corners.five_link,
        findings=(*ROCKER_FINDINGS, "shaft_angle"),
    ),
    Layout(
        "strut-adapter",
        "Donor strut with another shock on adapters",
        "The strut guides the wheel as before; a shorter shock is made up to length at top and bottom.",
        "height above the wheel",
        corners.strut,
    ),
    Layout(
        "swing-beam",
        "Swing beam, spring and long shock apart",
        "A beam swings about a bush beyond the centreline; spring on the beam, shock up to a hoop.",
        "across the car under the engine; height for the hoop",
        corners.swing_beam,
    ),
    Layout(
        "single-rear",
        "Single rear wheel, shock on the arm",
        "One wheel on a swinging arm; the shock stands straight on it.",
        "in the middle of the car, ahead of the tyre",
        corners.single_rear_direct,
    ),
    Layout(
        "single-rear-drop-link",
        "Single rear wheel, drop link and rocker",
        "A drop link pulls a rocker below the arm, which presses the shock.",
        "in the middle of the car, low",
        corners.single_rear_drop_link,
        findings=ROCKER_FINDINGS,
    ),
    Layout(
        "crossed-coilovers",
        "Crossed coilovers, one fore and one aft",
        "Each coilover lies across the car to the far side; one passes ahead of the other.",
        "across the car above the arms; none beside the tyres",
        corners.crossed,
        findings=("across_the_car", "first_in_bump", "first_in_droop"),
    ),
    Layout(
        "arm-on-air",
        "Trailing arm on a bag",
        "A bag on the arm carries; a damper beside it must never be left off.",
        "width for the bag at its largest",
        corners.arm_on_air,
        findings=AIR_FINDINGS,
    ),
    Layout(
        "axle-four-link",
        "Live axle, triangulated four-link, coilovers upright",
        "Two lower links and two splayed upper ones place the axle; coilovers stand on the tube.",
        "height above the tube inside the tyres",
        axles.four_link_triangulated,
        findings=AXLE_FINDINGS,
    ),
    Layout(
        "axle-four-link-lateral",
        "Live axle, parallel four-link with lateral link, coilovers leaning",
        "Four parallel links and a link across; it twists its bushes in articulation.",
        "behind the tube for the lateral link",
        axles.four_link_parallel,
        findings=AXLE_FINDINGS,
    ),
    Layout(
        "axle-three-link",
        "Live axle, three links, coilovers ahead on the arms",
        "Two lower arms, one upper link and a link across; coilovers ahead of the axle, softer and with more stroke.",
        "ahead of the axle, above the arms",
        axles.three_link_ahead,
        findings=AXLE_FINDINGS,
    ),
    Layout(
        "axle-cantilever",
        "Live axle, rods to rockers on the rails",
        "A rod from the axle turns a rocker on each rail; the dampers lie along the frame.",
        "above the rails, along the frame",
        axles.cantilever_axle,
        findings=(*ROCKER_FINDINGS, *AXLE_FINDINGS),
    ),
    Layout(
        "axle-on-air",
        "Live axle on bags with separate dampers",
        "Bags on the tube carry; dampers stand behind it.",
        "width inside the tyres for the bags at their largest",
        axles.axle_on_air,
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
