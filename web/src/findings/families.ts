import type { Finding } from "../api/client";

/** Whether a finding is shown on a sheet: the engine says which; Layout shows all of a station's. */
export const isOn = (sheet: string) => (finding: Finding) =>
  sheet === "layout" || finding.sheets.includes(sheet);
