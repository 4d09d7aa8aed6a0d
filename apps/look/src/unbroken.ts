// Sentences as they are set in lines.

/** A number and its unit stay on one line, and so does what is added to it. */
export function unbroken(text: string): string {
  return text.replace(/(?<=\d) (?=°|%|[a-zA-Z]{1,4}\b)/g, "\u00a0").replace(/ ([-+]) (?=\d)/g, "\u00a0$1\u00a0");
}
