import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ImageUp, Trash2 } from "lucide-react";
import { type FormEvent, useState } from "react";
import { answer, client, keepMark, type Shape } from "../api/client";
import { useShop } from "../quantity/money";
import { Trouble } from "../session/states";
import { asPicture } from "./mark";

type Shop = Shape["ShopOut"];

/** What the customer's book bears of the shop: its name, its address, its mark. */
export function ShopPapers() {
  const shop = useShop();
  return (
    <section aria-label="On the shop’s papers">
      <h2 className="text-2xl">On the shop’s papers</h2>
      <p className="text-soft">
        The customer’s book and the build book begin with it; amounts of money bear the currency. A mark is an
        SVG, a PNG or a JPEG.
      </p>
      {shop.isError && <Trouble title="It cannot be shown" detail={shop.error.message} />}
      {shop.data && <Fields its={shop.data} />}
    </section>
  );
}

function Fields({ its }: { its: Shop }) {
  const queries = useQueryClient();
  const [name, setName] = useState(its.name ?? "");
  const [address, setAddress] = useState(its.address ?? "");
  const [currency, setCurrency] = useState(its.currency ?? "");
  const [shown, setShown] = useState(0);
  const onSuccess = (now: Shop) => {
    queries.setQueryData(["shop"], now);
    setShown((before) => before + 1);
  };
  const say = useMutation({
    mutationFn: () => answer(client.PUT("/api/people/shop", { body: { name, address, currency } })),
    onSuccess,
  });
  const keep = useMutation({
    mutationFn: async (file: File) => keepMark(await asPicture(file)),
    onSuccess,
  });
  const drop = useMutation({
    mutationFn: () => answer(client.DELETE("/api/people/shop/mark")),
    onSuccess,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    say.mutate();
  };
  const failed = say.error ?? keep.error ?? drop.error;
  return (
    <>
      <form onSubmit={submit} className="mt-2 flex flex-wrap items-start gap-3">
        <label className="basis-64">
          <span className="block font-semibold">Name of the shop</span>
          <input className="entry" maxLength={120} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <label className="flex-1 basis-72">
          <span className="block font-semibold">Address</span>
          <textarea
            className="entry h-24 py-2"
            maxLength={400}
            value={address}
            onChange={(e) => setAddress(e.target.value)}
          />
        </label>
        <label className="w-28">
          <span className="block font-semibold">Currency</span>
          <input
            className="entry"
            maxLength={6}
            placeholder="€"
            value={currency}
            onChange={(e) => setCurrency(e.target.value)}
          />
        </label>
        <button type="submit" className="press mt-6" disabled={say.isPending}>
          Keep it
        </button>
      </form>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        {its.marked && (
          <img
            src={`/api/people/shop/mark.png?${shown}`}
            alt="The shop’s mark"
            className="max-h-24 max-w-60 border border-rule bg-white p-1"
          />
        )}
        <label className="press cursor-pointer focus-within:outline focus-within:outline-2">
          <ImageUp size={18} aria-hidden /> {its.marked ? "Another mark" : "Add a mark"}
          <input
            type="file"
            accept="image/svg+xml,image/png,image/jpeg"
            className="sr-only"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              if (file) keep.mutate(file);
              event.target.value = "";
            }}
          />
        </label>
        {its.marked && (
          <button type="button" className="press" onClick={() => drop.mutate()}>
            <Trash2 size={18} aria-hidden /> Remove the mark
          </button>
        )}
      </div>
      <p role="status" className={failed ? "pt-2 text-fault" : "pt-2"}>
        {failed ? failed.message : say.isSuccess ? "Kept. The next book bears it." : ""}
      </p>
    </>
  );
}
