import type { Finding } from "../api/client";

/** Which findings a sheet shows: its own slice of the one list. */
const ROCKER = /^(rod_square|rod_near|joint_|linkage_reach)/;
const SPRINGS =
  /^(rate_in|ride_frequency|stroke_split|coil_|no_equilibrium|bag_|adjustment|finished|height_adjuster|bump_stop_at_ride)/;
const STOPS =
  /^(first_in|strap|bump_stop|damper_|coil_|bag_m|linkage_reach|joint|shaft|tyre_to|bag_to|parts_to|across_the_car)/;

export const isOfRocker = (finding: Finding) => ROCKER.test(finding.code);
export const isOfSprings = (finding: Finding) => SPRINGS.test(finding.code);
export const isOfStops = (finding: Finding) => STOPS.test(finding.code);
