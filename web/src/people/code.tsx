import { Copy } from "lucide-react";
import { useState } from "react";

/** An address as a code to hold a camera to, and as text to copy. */
export function Code({ link, what }: { link: string; what: string }) {
  const [copied, setCopied] = useState<boolean | null>(null);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(link);
      setCopied(true);
    } catch {
      setCopied(false);
    }
  };
  return (
    <figure className="flex flex-col items-start gap-2">
      <img
        src={`/api/people/code.svg?text=${encodeURIComponent(link)}`}
        alt={`Code: ${what}`}
        className="size-52 border border-rule bg-white"
      />
      <figcaption className="flex w-full flex-wrap items-center gap-2">
        <span className="min-w-0 flex-1 basis-52 break-all text-sm" data-testid="link">
          {link}
        </span>
        <button type="button" className="press px-3 text-sm" onClick={copy}>
          <Copy size={16} aria-hidden /> {copied ? "Copied" : "Copy"}
        </button>
        {copied === false && (
          <p role="status" className="basis-full text-sm text-soft">
            This browser lets nothing be copied by a press. Mark the address and copy it by hand.
          </p>
        )}
      </figcaption>
    </figure>
  );
}
