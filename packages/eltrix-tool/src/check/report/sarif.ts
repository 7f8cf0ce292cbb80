/** Findings as SARIF 2.1.0 (OASIS), for editors and code hosts. */
import type { Finding } from '../../project/finding.ts';

export function sarif(findings: readonly Finding[], version: string): object {
  const codes = [...new Set(findings.map(({ code }) => code))].sort();
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'eltrix',
            version,
            // `helpUri` has to be absolute (§3.49.12), and the documentation has no URL: the text names the page.
            rules: codes.map(id => ({
              id,
              help: { text: `Look for ${id} in docs/messages.md or docs/conformance.md of the package eltrix-tool.` },
            })),
          },
        },
        columnKind: 'utf16CodeUnits',
        results: findings.map(({ code, message, file, line, column }) => ({
          ruleId: code,
          ruleIndex: codes.indexOf(code),
          level: 'error',
          message: { text: message },
          locations: [
            {
              physicalLocation: {
                artifactLocation: { uri: file.split('/').map(encodeURIComponent).join('/') },
                region: { startLine: line, startColumn: column },
              },
            },
          ],
        })),
      },
    ],
  };
}
