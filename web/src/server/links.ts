/** Addresses of this application under short names. */
import { get, send } from "./http";

/** The short address of a whole one. */
export async function shorten(address: string): Promise<string> {
  const { id } = await send<{ id: string }>("POST", "/api/links", { address });
  return `/l/${id}`;
}

/** The whole address behind a short one. */
export async function addressOf(id: string): Promise<string> {
  return (await get<{ address: string }>(`/api/links/${encodeURIComponent(id)}`)).address;
}
