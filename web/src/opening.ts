/** Runs while the code of the page is still being read. */
import { askFirst } from "@/server/opening";

// What is refused here is refused again to the page, which says so.
askFirst(location).catch(() => undefined);
