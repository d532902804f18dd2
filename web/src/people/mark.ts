const KEPT_SIDE = 1000;
const NO_MARK = "This SVG cannot be drawn here. Save the mark as a PNG.";

/** Return a mark as a picture that a paper takes: an SVG is drawn as large as marks are kept. A picture runs no script and fetches nothing. */
export async function asPicture(file: File): Promise<Blob> {
  if (file.type !== "image/svg+xml") return file;
  const address = URL.createObjectURL(file);
  try {
    const shown = new Image();
    shown.src = address;
    await shown.decode();
    const [wide, tall] = [shown.naturalWidth || KEPT_SIDE, shown.naturalHeight || KEPT_SIDE];
    const larger = KEPT_SIDE / Math.max(wide, tall);
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [Math.round(wide * larger) || 1, Math.round(tall * larger) || 1];
    canvas.getContext("2d")?.drawImage(shown, 0, 0, canvas.width, canvas.height);
    return await new Promise<Blob>((done, failed) =>
      canvas.toBlob((made) => (made ? done(made) : failed(new Error(NO_MARK))), "image/png"),
    );
  } catch {
    throw new Error(NO_MARK);
  } finally {
    URL.revokeObjectURL(address);
  }
}
