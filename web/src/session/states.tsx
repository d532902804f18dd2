import { type ReactNode, useEffect, useState } from "react";

/** Waiting: says so only when it takes long enough to be noticed. */
export function Waiting({ what }: { what: string }) {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 250);
    return () => clearTimeout(timer);
  }, []);
  return (
    <p role="status" className="p-8 text-lg text-soft">
      {late ? `${what} …` : " "}
    </p>
  );
}

/** Something went wrong: what, and the way on. */
export function Trouble({
  title,
  detail,
  children,
}: {
  title: string;
  detail: string;
  children?: ReactNode;
}) {
  return (
    <div role="alert" className="m-4 max-w-2xl border-2 border-fault bg-card p-6">
      <h2 className="text-xl">{title}</h2>
      <p className="mt-2 whitespace-pre-line">{detail}</p>
      {children && <div className="mt-4 flex flex-wrap gap-3">{children}</div>}
    </div>
  );
}
