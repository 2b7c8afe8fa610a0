/** Addresses of this application under short names. */
import { client, given } from "./http";

/** The short address of a whole one. */
export async function shorten(address: string): Promise<string> {
  const { id } = await given(client.POST("/api/links", { body: { address } }));
  return `/l/${id}`;
}

/** The whole address behind a short one. */
export async function addressOf(number: string): Promise<string> {
  return (await given(client.GET("/api/links/{number}", { params: { path: { number } } }))).address;
}
