/** Short links: made of the address on screen, and found again. */
export { addressOf, shorten } from "@/server/links";
