/** How a day or a text of a line is held against something. */
export const RELATIONS = { before: "lies before", on: "is the same as", after: "lies after" } as const;
export const LIKE = { begins: "begins with", contains: "contains", equals: "equals" } as const;
