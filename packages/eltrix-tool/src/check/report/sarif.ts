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
          driver: { name: 'eltrix', version, rules: codes.map(id => ({ id, helpUri: `docs/messages.md#${id}` })) },
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
                artifactLocation: { uri: encodeURI(file) },
                region: { startLine: line, startColumn: column },
              },
            },
          ],
        })),
      },
    ],
  };
}
