export const html = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** A page of a practice place, which says that it is one. */
export function page(
  title: string,
  kind: string,
  body: string,
  { sheets = [], script = null }: { sheets?: string[]; script?: string | null } = {},
): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${html(title)}</title>
<link rel="stylesheet" href="/assets/place.css">
${sheets.map((s) => `<link rel="stylesheet" href="${html(s)}">`).join('\n')}
</head>
<body class="${html(kind)}">
<p class="practice">A practice place: it stands in for a real ${html(kind.replace('-', ' '))}, and nothing here leaves this computer. <a href="/practice">Break it on purpose</a></p>
${body}
${script ? `<script src="${html(script)}"></script>` : ''}
</body>
</html>
`;
}
