/** Briefs, their issues, mail and alerts. */
import type {
  Alert,
  Brief,
  Briefs,
  CopyMember,
  Draft,
  DraftQuestion,
  Handing,
  IssueOpened,
  Job,
  KeptAlert,
  KeptAlerts,
  KeptBrief,
  ListedBrief,
  MailLog,
  Person,
  Restatement,
  Schedule,
} from "@/contract";
import { client, given } from "./http";
import { asked, watched } from "./queries";

export { followed, stop } from "./intake";

/** Milliseconds between looks at what has become of messages, and of what was restated. */
const LOOK_EVERY = 3_000;

function named(name: string): { params: { query: { name: string } } } {
  return { params: { query: { name } } };
}

function of(brief: number): { params: { path: { brief: number } } } {
  return { params: { path: { brief } } };
}

export function listBriefs(ledger: string): Promise<Briefs> {
  return given(client.GET("/api/briefs", named(ledger))) as Promise<Briefs>;
}

/** Look at the list of briefs now and then: issues come by themselves, and so does what was restated. */
export function watchBriefs(ledger: string, told: (found: Briefs) => void): () => void {
  return watched<Briefs>(
    ["briefs", ledger],
    () => listBriefs(ledger),
    () => LOOK_EVERY,
    ({ data }) => data && told(data),
  );
}

export function briefOf(brief: number): Promise<ListedBrief> {
  return given(client.GET("/api/briefs/{brief}", of(brief))) as Promise<ListedBrief>;
}

export function keepBrief(
  ledger: string,
  brief: Brief,
  handing: Handing,
  id: number | null,
  seen: string | null,
): Promise<KeptBrief> {
  return given(
    client.PUT("/api/briefs", { body: { ledger, brief, handing, id, seen } }),
  ) as Promise<KeptBrief>;
}

export async function forgetBrief(brief: number): Promise<void> {
  await given(client.DELETE("/api/briefs/{brief}", of(brief)));
}

export async function takeBackBrief(brief: number): Promise<void> {
  await given(client.POST("/api/briefs/{brief}/taken-back", of(brief)));
}

/** A brief as it would be published now, as of a version that is known to be posted. */
export function draft(body: DraftQuestion, version: number, leaving: AbortSignal): Promise<Draft> {
  return asked(
    ["draft", version, body],
    (signal) => given(client.POST("/api/drafts", { body, signal })) as Promise<Draft>,
    leaving,
    true,
  );
}

/** The same as it will print, page by page, as pictures. */
export async function draftPages(body: DraftQuestion, signal: AbortSignal): Promise<string[]> {
  return (await given(client.POST("/api/drafts/pages", { body, signal }))).pages;
}

export function copyMembers(body: DraftQuestion): Promise<CopyMember[]> {
  return given(client.POST("/api/drafts/members", { body }));
}

export function publish(brief: number, day: string | null, handOut: boolean): Promise<Job> {
  return given(client.POST("/api/briefs/{brief}/issues", { ...of(brief), body: { day, hand_out: handOut } }));
}

export function openIssue(issue: number, place: number): Promise<IssueOpened> {
  return given(
    client.GET("/api/issues/{issue}", { params: { path: { issue }, query: { place } } }),
  ) as Promise<IssueOpened>;
}

export function restated(issue: number): Promise<Restatement> {
  return given(
    client.GET("/api/issues/{issue}/restated", { params: { path: { issue } } }),
  ) as Promise<Restatement>;
}

/** The address of an issue's page, and of its files. */
export function pageOf(issue: number, place: number): string {
  return `/api/issues/${issue}/page.html?place=${place}`;
}

export function fileOf(issue: number, kind: string, place: number): string {
  return `/api/issues/${issue}/file.${kind}?place=${place}`;
}

export async function handOut(issue: number, people: Person[] | null): Promise<number> {
  const asking = { params: { path: { issue } }, body: { people } };
  return (await given(client.POST("/api/issues/{issue}/mails", asking))).messages;
}

/** Follow what becomes of messages: of a ledger, or of one issue. */
export function watchMails(ledger: string, issue: number | null, told: (log: MailLog) => void): () => void {
  const query = issue === null ? { name: ledger } : { name: ledger, issue };
  return watched<MailLog>(
    ["mails", ledger, issue],
    () => given(client.GET("/api/mails", { params: { query } })),
    () => LOOK_EVERY,
    ({ data }) => data && told(data),
  );
}

export async function testMail(ledger: string, address: string): Promise<void> {
  await given(client.POST("/api/mails/test", { body: { ledger, address } }));
}

export async function sendAgain(mail: number): Promise<void> {
  await given(client.POST("/api/mails/{mail}/again", { params: { path: { mail } } }));
}

export async function nextMoment(ledger: string, schedule: Schedule): Promise<string | null> {
  return (await given(client.POST("/api/schedules/next", { body: { ledger, schedule } }))).at;
}

export function listAlerts(ledger: string): Promise<KeptAlerts> {
  return given(client.GET("/api/alerts", named(ledger)));
}

export function keepAlert(ledger: string, alert: Alert, id: number | null): Promise<KeptAlert> {
  return given(client.PUT("/api/alerts", { body: { ledger, alert, id } }));
}

export async function forgetAlert(ledger: string, alert: number): Promise<void> {
  await given(client.DELETE("/api/alerts", { params: { query: { name: ledger, alert } } }));
}
