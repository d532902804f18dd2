/** The square of places that is looked at about a mount: mm each way, and how many each way. */

export const HALF_MM = 140;
export const COUNT = 41;
