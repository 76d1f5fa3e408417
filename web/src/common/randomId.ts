/** A random name; unlike crypto.randomUUID it also works where the page came by plain HTTP. */
export function randomId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
