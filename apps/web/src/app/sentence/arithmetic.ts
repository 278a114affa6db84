/**
 * The value of a sum as people type it: `8 - 110`, `2.5 m`, `(3 + 1) * 60 cm`, `1/3`; with a comma or a point. What has no unit
 * counts in the value's own; `units` has how many of that each unit is. Null if it cannot be read.
 */
export function sumOf(text: string, units: Readonly<Record<string, number>>): number | null {
  const rest = {
    text: text
      .replace(/\u2212/g, '-')
      .replace(/×/g, '*')
      .replace(/,/g, '.')
      .trim(),
  };
  // The longest first.
  const known = Object.entries(units).sort(([a], [b]) => b.length - a.length);
  const value = sum(rest, known);
  return value === null || rest.text !== '' || !Number.isFinite(value) ? null : value;
}

interface Rest {
  text: string;
}

function took(rest: Rest, sign: string): boolean {
  if (!rest.text.startsWith(sign)) return false;
  rest.text = rest.text.slice(sign.length).trimStart();
  return true;
}

function sum(rest: Rest, known: [string, number][]): number | null {
  let value = product(rest, known);
  while (value !== null) {
    const sign = took(rest, '+') ? 1 : took(rest, '-') ? -1 : 0;
    if (sign === 0) return value;
    const next = product(rest, known);
    value = next === null ? null : value + sign * next;
  }
  return null;
}

function product(rest: Rest, known: [string, number][]): number | null {
  let value = factor(rest, known);
  while (value !== null) {
    const times = took(rest, '*');
    if (!times && !took(rest, '/')) return value;
    const next = factor(rest, known);
    value = next === null ? null : times ? value * next : value / next;
  }
  return null;
}

function factor(rest: Rest, known: [string, number][]): number | null {
  if (took(rest, '-')) return negated(factor(rest, known));
  if (took(rest, '+')) return factor(rest, known);
  let value: number | null;
  if (took(rest, '(')) {
    value = sum(rest, known);
    if (value === null || !took(rest, ')')) return null;
  } else {
    const [digits] = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(rest.text) ?? [''];
    if (digits === '') return null;
    took(rest, digits);
    value = Number(digits);
  }
  for (const [name, factorOf] of known) {
    const tail = rest.text.slice(name.length);
    if (!rest.text.toLowerCase().startsWith(name.toLowerCase()) || /^[a-z]/i.test(tail)) continue;
    took(rest, rest.text.slice(0, name.length));
    return value * factorOf;
  }
  return value;
}

function negated(value: number | null): number | null {
  return value === null ? null : -value;
}
