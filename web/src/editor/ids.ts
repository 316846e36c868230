/** A fresh id for a pass, a selection or a shape. (`randomUUID` is missing where the server is reached by another address over plain HTTP.) */
export const newId = () => [...crypto.getRandomValues(new Uint8Array(6))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
