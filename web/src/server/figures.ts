import type { Answer, LinesPage, MemberKey, Opened, Proof, Statement, TableCheck } from "@/contract";
import { send } from "./http";

export interface Asked {
  ledger: string;
  statement: Statement;
  opened: Opened;
}

export interface AskedNumber {
  ledger: string;
  statement: Statement;
  path: MemberKey[];
  column: string;
}

export function answer(asked: Asked, signal: AbortSignal): Promise<Answer> {
  return send("POST", "/api/answers", asked, signal);
}

export function answerCsv(asked: Asked): Promise<string> {
  return send("POST", "/api/answers.csv", asked);
}

export function check(asked: Asked, signal: AbortSignal): Promise<TableCheck> {
  return send("POST", "/api/checks", asked, signal);
}

export function prove(asked: AskedNumber, signal: AbortSignal): Promise<Proof> {
  return send("POST", "/api/proofs", asked, signal);
}

export function lines(
  asked: AskedNumber,
  operand: number,
  offset: number,
  signal: AbortSignal,
): Promise<LinesPage> {
  return send("POST", "/api/proofs/lines", { ...asked, operand, offset, limit: 50 }, signal);
}
