/** CSS that several elements share. */
export const cardCss = `
:host { display: block; padding: 0.75rem; border: 1px solid var(--hive-edge, #b59a5b); border-radius: 0.5rem }
:host([mood='swarming']) b { color: #9b2c1f }
h3 { margin: 0 0 0.25rem }
`;
