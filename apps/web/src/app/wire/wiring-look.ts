import { Decoration, EditorView, MatchDecorator, ViewPlugin } from '@codemirror/view';
import type { DecorationSet, ViewUpdate } from '@codemirror/view';

/** The editor in the colours and letters of the studio, on light and dark paper. */
const paper = EditorView.theme({
  '&': { height: '100%', color: 'var(--ink)', backgroundColor: 'var(--card)', fontSize: '15px' },
  '&.cm-focused': { outline: '2px solid var(--pencil-blue)' },
  '.cm-scroller': { fontFamily: 'var(--face-mono)', lineHeight: '1.55' },
  '.cm-content': { caretColor: 'var(--ink)', padding: '10px 0' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)', borderLeftWidth: '2px' },
  '.cm-gutters': { color: 'var(--ink-soft)', backgroundColor: 'var(--sheet)', borderRight: '1px solid var(--line)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { background: 'var(--wash-blue) !important' },
  '.wiring-head': { fontWeight: '600', color: 'var(--pencil-blue)' },
  '.wiring-cause': { fontWeight: '600' },
  '.wiring-quote': { fontStyle: 'italic' },
  '.wiring-note': { color: 'var(--ink-soft)', fontStyle: 'italic' },
  '.cm-tooltip': {
    color: 'var(--ink)',
    backgroundColor: 'var(--slip)',
    border: '1px solid var(--slip-edge)',
    fontFamily: 'var(--face-label)',
    maxWidth: '46em',
  },
  '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--face-mono)', fontSize: '14px', maxHeight: '12em' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { color: 'var(--floor)', backgroundColor: 'var(--pencil-blue)' },
  '.cm-diagnostic-error': { borderLeft: '4px solid var(--pencil-red)' },
});

const words = new MatchDecorator({
  regexp: /^(?:flag|counter|text|signal|watch|chain)\b.*$|^\s*\/\/.*$|^\s+(?:When|Only if)\b|“[^”]*”/gm,
  decoration: ([found]) => Decoration.mark({ class: classOf(found) }),
});

function classOf(found: string): string {
  if (found.startsWith('“')) return 'wiring-quote';
  if (found.trimStart().startsWith('//')) return 'wiring-note';
  return found.startsWith(' ') ? 'wiring-cause' : 'wiring-head';
}

const marking = ViewPlugin.define(
  (view): { marks: DecorationSet; update(update: ViewUpdate): void } => ({
    marks: words.createDeco(view),
    update(update) {
      this.marks = words.updateDeco(update, this.marks);
    },
  }),
  { decorations: ({ marks }) => marks },
);

/** How wiring as text looks. */
export const wiringLook = [paper, marking];
