/** A key on the blue of the drawing. */
export const KEY =
  "-ml-px flex h-11 min-w-11 items-center justify-center border border-[#8ea3d1] bg-[#16336b] px-2 text-[#f4f1e6] aria-pressed:bg-[#f4f1e6] aria-pressed:text-[#14181d] data-[state=on]:bg-[#f4f1e6] data-[state=on]:text-[#14181d]";
