import { type Answer, answer } from "./client";

/** Save what a call answers as a file, under the name that the server gives it; throws Refused with the server's sentence. */
export async function saveFile(call: Promise<Answer<unknown>>, otherwise: string): Promise<void> {
  const got = await call;
  const data = (await answer(Promise.resolve(got))) as Blob;
  const said = got.response.headers.get("Content-Disposition") ?? "";
  const link = document.createElement("a");
  link.href = URL.createObjectURL(data);
  link.download = /filename="([^"]+)"/.exec(said)?.[1] ?? otherwise;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
