// Where the service stands.

/** The service's address without a slash at its end, as its page says it: https://club.example, or https://club.example/table. */
export const service = new URL(document.querySelector("base")?.href ?? "/", location.origin).href.replace(/\/$/, "");
