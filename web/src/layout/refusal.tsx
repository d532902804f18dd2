import { Mark } from "../marks/mark";

/** What cannot be put together, over the drawing, with the way back. */
export function Refusal({
  message,
  path,
  onUndo,
}: {
  message: string;
  path: string;
  onUndo: (() => void) | undefined;
}) {
  return (
    <div
      role="alert"
      className="absolute inset-x-3 bottom-3 z-10 flex flex-wrap items-center gap-3 border-2 border-fault bg-card p-3 shadow-lg"
    >
      <Mark mark="fault" />
      <div className="min-w-0 flex-1 basis-60">
        <p className="font-semibold">This cannot be put together</p>
        <p className="text-sm">{message}</p>
        {path && <p className="text-sm text-soft">In the file: {path}</p>}
      </div>
      {onUndo && (
        <button type="button" className="press press-main" onClick={onUndo}>
          Undo the last change
        </button>
      )}
    </div>
  );
}
