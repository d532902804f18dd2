/** The sheets, each fetched when it is first opened, and all of them once the page has settled: the first screen waits for one. */

import { lazy } from "react";

const survey = () => import("../survey/survey-sheet");
const rocker = () => import("../rocker/rocker-sheet");
const springing = () => import("../springing/springing-sheet");
const stops = () => import("../stops/stops-sheet");
const make = () => import("../make/make-sheet");
const prove = () => import("../prove/prove-sheet");
const log = () => import("../log/log-sheet");
const brief = () => import("../brief/brief-sheet");
const layout = () => import("../layout/layout-sheet");
const study = () => import("../study/study-sheet");

export const BriefSheet = lazy(() => brief().then((its) => ({ default: its.BriefSheet })));
export const LayoutSheet = lazy(() => layout().then((its) => ({ default: its.LayoutSheet })));
export const StudySheet = lazy(() => study().then((its) => ({ default: its.StudySheet })));
export const SurveySheet = lazy(() => survey().then((its) => ({ default: its.SurveySheet })));
export const SurveyVerdict = lazy(() => survey().then((its) => ({ default: its.SurveyVerdict })));
export const RockerSheet = lazy(() => rocker().then((its) => ({ default: its.RockerSheet })));
export const SpringingSheet = lazy(() => springing().then((its) => ({ default: its.SpringingSheet })));
export const StopsSheet = lazy(() => stops().then((its) => ({ default: its.StopsSheet })));
export const MakeSheet = lazy(() => make().then((its) => ({ default: its.MakeSheet })));
export const MakeVerdict = lazy(() => make().then((its) => ({ default: its.MakeVerdict })));
export const ProveSheet = lazy(() => prove().then((its) => ({ default: its.ProveSheet })));
export const ProveVerdict = lazy(() => prove().then((its) => ({ default: its.ProveVerdict })));
export const LogSheet = lazy(() => log().then((its) => ({ default: its.LogSheet })));

/** Fetch every sheet, so that the next one opens at once. */
export const fetchSheets = () =>
  Promise.allSettled(
    [brief, layout, survey, rocker, springing, stops, make, prove, log, study].map((load) => load()),
  );
