// JUnit XML, the form in which build servers read test results: suites of cases, each passed or with its failure.

/** One case of a suite. */
export interface JunitCase {
  readonly name: string;
  readonly seconds: number;
  /** What went wrong; left out for one that passed. */
  readonly failure?: { readonly says: string; readonly details: string };
}

/** A suite as JUnit XML. */
export function writeJunit(suite: string, cases: readonly JunitCase[]): string {
  const failures = cases.filter(({ failure }) => failure).length;
  const seconds = cases.reduce((sum, one) => sum + one.seconds, 0);
  const counts = `tests="${cases.length}" failures="${failures}" errors="0" skipped="0" time="${seconds.toFixed(3)}"`;
  const lines = cases.map(({ name, seconds, failure }) => {
    const head = `    <testcase classname="${escaped(suite)}" name="${escaped(name)}" time="${seconds.toFixed(3)}"`;
    if (!failure) return `${head}/>`;
    return `${head}>\n      <failure message="${escaped(failure.says)}">${escaped(failure.details)}</failure>\n    </testcase>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>
<testsuites name="modrik" ${counts}>
  <testsuite name="${escaped(suite)}" ${counts}>
${lines.join("\n")}
  </testsuite>
</testsuites>
`;
}

/** Text for XML 1.0, which has no control signs but tab and line ends. */
function escaped(text: string): string {
  return (
    text
      // biome-ignore lint/suspicious/noControlCharactersInRegex: it is these that are looked for
      .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, "\ufffd")
      .replaceAll("&", "&amp;")
      .replaceAll("<", "&lt;")
      .replaceAll(">", "&gt;")
      .replaceAll('"', "&quot;")
  );
}
