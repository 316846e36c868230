/** A fresh id for whatever is made on the page. (`randomUUID` is missing where the server is reached by another address over plain HTTP.) */
export const newId = () => [...crypto.getRandomValues(new Uint8Array(6))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
