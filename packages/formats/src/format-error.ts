/** What is wrong with a text of another program's format, in one sentence. */
export class FormatError extends Error {}
