/** Text within an element or an attribute. What XML 1.0 has no character for is left out. */
export function escaped(text: string): string {
  return text
    .replace(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}

type Attributes = Readonly<Record<string, string | number | undefined>>;

/** An element with its content, which is XML already; `text` is not, and is escaped by it. */
export function element(
  name: string,
  attributes: Attributes = {},
  content: readonly string[] = [],
) {
  const said = Object.entries(attributes)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => ` ${key}="${escaped(String(value))}"`)
    .join('');
  return content.length === 0
    ? `<${name}${said}/>`
    : `<${name}${said}>${content.join('')}</${name}>`;
}

/** An element that holds text. */
export function text(name: string, content: string | number, attributes: Attributes = {}): string {
  return element(name, attributes, [escaped(String(content))]);
}
