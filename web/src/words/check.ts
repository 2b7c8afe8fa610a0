/** How a pasted figure compares with the table's. */
export const VERDICTS: Record<"equal" | "different" | "absent", string> = {
  equal: "equal",
  different: "different",
  absent: "absent",
};
