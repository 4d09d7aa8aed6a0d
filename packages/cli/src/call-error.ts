/** The call was wrong: no such file, no such name. Ends with exit code 2. */
export class CallError extends Error {
  constructor(
    message: string,
    readonly remedy?: string,
  ) {
    super(message);
  }
}
