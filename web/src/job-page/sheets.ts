/** The sheets, each fetched when it is first opened, and all of them once the page has settled: the first screen waits for one. */

import { lazy } from "react";
import { fetched } from "../session/fetched";

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
const frame = () => import("../frame/frame-sheet");
const right = () => import("../right/right-sheet");
const next = () => import("../next/next-sheet");

export const BriefSheet = lazy(() => fetched(brief).then((its) => ({ default: its.BriefSheet })));
export const LayoutSheet = lazy(() => fetched(layout).then((its) => ({ default: its.LayoutSheet })));
export const StudySheet = lazy(() => fetched(study).then((its) => ({ default: its.StudySheet })));
export const FrameSheet = lazy(() => fetched(frame).then((its) => ({ default: its.FrameSheet })));
export const RightSheet = lazy(() => fetched(right).then((its) => ({ default: its.RightSheet })));
export const NextSheet = lazy(() => fetched(next).then((its) => ({ default: its.NextSheet })));
export const SurveySheet = lazy(() => fetched(survey).then((its) => ({ default: its.SurveySheet })));
export const SurveyVerdict = lazy(() => fetched(survey).then((its) => ({ default: its.SurveyVerdict })));
export const RockerSheet = lazy(() => fetched(rocker).then((its) => ({ default: its.RockerSheet })));
export const SpringingSheet = lazy(() => fetched(springing).then((its) => ({ default: its.SpringingSheet })));
export const StopsSheet = lazy(() => fetched(stops).then((its) => ({ default: its.StopsSheet })));
export const MakeSheet = lazy(() => fetched(make).then((its) => ({ default: its.MakeSheet })));
export const MakeVerdict = lazy(() => fetched(make).then((its) => ({ default: its.MakeVerdict })));
export const ProveSheet = lazy(() => fetched(prove).then((its) => ({ default: its.ProveSheet })));
export const ProveVerdict = lazy(() => fetched(prove).then((its) => ({ default: its.ProveVerdict })));
export const LogSheet = lazy(() => fetched(log).then((its) => ({ default: its.LogSheet })));

/** Fetch every sheet, so that the next one opens at once. */
export const fetchSheets = () =>
  Promise.allSettled(
    [brief, layout, survey, rocker, springing, stops, make, prove, log, study, right, frame, next].map(
      (load) => load(),
    ),
  );
