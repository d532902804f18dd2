/** A name that nobody guesses and nothing else bears; `crypto.randomUUID` is only there with TLS, which a shop may do without. */
export function newName(): string {
  const hex = Array.from(crypto.getRandomValues(new Uint8Array(16)), (one) =>
    one.toString(16).padStart(2, "0"),
  );
  return [hex.slice(0, 4), hex.slice(4, 6), hex.slice(6, 8), hex.slice(8, 10), hex.slice(10)]
    .map((part) => part.join(""))
    .join("-");
}
