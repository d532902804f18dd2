/** Amounts of money in the shop's own currency, as its owner says it on the people's page. */

import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../api/client";

const NOT_SAID = "¤"; // the sign of a currency that nobody has named

/** What the shop's papers and amounts bear of it. */
export const useShop = () =>
  useQuery({
    queryKey: ["shop"],
    queryFn: () => answer(client.GET("/api/people/shop")),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

/** How an amount is written here, and the sign alone. */
export function useMoney(): { sign: string; money: (amount: number) => string } {
  const sign = useShop().data?.currency || NOT_SAID;
  return { sign, money: (amount) => `${Math.round(amount * 10) / 10} ${sign}` };
}
