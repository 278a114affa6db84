import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { Chain, Finding, Point, WalkFinding } from '@nettlewick/core';
import { isUndrawn, partedByAcceptance } from '@nettlewick/core';
import { Board } from '../board/board';
import type { BoardPointer } from '../board/board';
import type { Pin } from '../board/pins';
import { Editor } from '../state/editor';
import { EditImpactStore } from '../state/aftermaths';
import { Rooms } from '../state/rooms';
import { FindingsStore } from '../state/findings-store';
import { FindingItem } from './finding-item';
import type { Listed } from './finding-item';

const groups: { weight: Finding['weight']; title: string; says: string }[] = [
  {
    weight: 'fault',
    title: 'Errors',
    says: 'A reference is missing or has the wrong type. The chain does nothing.',
  },
  { weight: 'warning', title: 'Warnings', says: 'Valid, but probably not what you intended.' },
  { weight: 'remark', title: 'Notes', says: 'Often intentional. Worth a look.' },
];

interface Group {
  title: string;
  says: string;
  findings: Listed[];
}

/** The number of findings of each severity that are listed and pinned on the plan. */
const LISTED = 200;

/** The Check view: findings in the document and from the walks, each marked on the plan, with its fix. */
@Component({
  selector: 'nw-check-view',
  imports: [Board, FindingItem],
  templateUrl: './check-view.html',
  styleUrl: './check-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CheckView {
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  protected readonly looked = inject(FindingsStore);
  private readonly impact = inject(EditImpactStore);
  protected readonly listed = LISTED;
  protected readonly chosen = signal<string | null>(null);
  /** Findings from the last run of all walks; null before the first run, and without walks. */
  private readonly seen = computed(() => (this.editor.level().walks.length === 0 ? null : (this.impact.found()?.seen ?? null)));
  /** The listed findings in the order of their numbers: by weight, then from the walks, then the accepted ones. */
  protected readonly groups = computed<Group[]>(() => {
    const level = this.editor.level();
    const walked = partedByAcceptance(level, this.seen()?.findings ?? []);
    const accepted = [...this.looked.accepted(), ...walked.accepted];
    let number = 0;
    const numbered = (finding: Finding | WalkFinding, note: string | null = null): Listed => ({
      finding,
      note,
      number: (number += 1),
      key: keyOf(finding),
    });
    const found = this.looked.found() ?? [];
    return [
      ...groups.map(({ weight, title, says }) => ({
        title,
        says,
        findings: found.filter((one) => one.weight === weight).map((one) => numbered(one)),
      })),
      { title: 'What the walks show', says: this.tried(), findings: walked.open.map((one) => numbered(one)) },
      {
        title: 'Accepted',
        says: 'Meant so, as somebody noted. A finding counts again when its reason changes.',
        findings: accepted.map(({ finding, note }) => numbered(finding, note)),
      },
    ].filter(({ findings }) => findings.length > 0);
  });
  protected readonly findings = computed(() => this.groups().flatMap(({ findings }) => findings));
  protected readonly isClear = computed(() => this.findings().every(({ note }) => note !== null));
  /** The coverage of the walks, in a sentence. */
  protected readonly tried = computed(() => {
    const seen = this.seen();
    const count = this.editor.level().walks.filter((walk) => !isUndrawn(walk)).length;
    if (count === 0) return 'There is no walk yet: draw one in Rehearse, and what it shows is listed here too.';
    if (seen === null) return 'The walks are being run…';
    return `${count === 1 ? 'The walk tries' : `The ${count} walks try`} ${Math.floor(seen.covered)} % of what there is to try${seen.covered < 100 ? '; the matrix in Rehearse shows the rest' : ''}.`;
  });
  /** What was looked at, in numbers. */
  protected readonly examined = computed(() => {
    const { chains, watches, zones, fixtures, visitors, walks } = this.editor.level();
    const counted = [
      [chains.length, 'chain', 'chains'],
      [watches.length, 'watch', 'watches'],
      [zones.length, 'zone', 'zones'],
      [fixtures.length, 'fixture', 'fixtures'],
      [visitors.length, 'visitor', 'visitors'],
      [walks.length, 'walk', 'walks'],
    ] as const;
    const said = counted.flatMap(([count, one, many]) => (count === 0 ? [] : [`${count} ${count === 1 ? one : many}`]));
    return `Checked ${said.length === 0 ? 'an empty level' : said.join(', ')}`;
  });
  /** Each finding where its thing stands, or where what it is about stands. */
  protected readonly pins = computed<Pin[]>(() =>
    // Only what is listed gets a pin, and accepted findings get none.
    this.groups()
      .flatMap(({ findings }) => findings.slice(0, LISTED))
      .filter(({ note }) => note === null)
      .flatMap(({ finding, key, number }) => {
        const standing = this.standingOf(finding);
        if (standing === null || standing.room !== this.rooms.current()) return [];
        return [{ id: key, at: standing.at, text: String(number), label: finding.reason, held: true as const }];
      }),
  );
  protected readonly marked = computed(() => {
    const found = this.findings().find(({ key }) => key === this.chosen())?.finding;
    return found === undefined ? [] : [found.thing, ...found.also].filter((id) => 'at' in (this.editor.find(id)?.thing ?? {}));
  });

  protected choose({ key, finding }: Listed): void {
    this.chosen.set(key);
    const room = this.standingOf(finding)?.room;
    if (room !== undefined) this.rooms.choose(room);
  }

  /** Where a finding is seen: at its thing, at what else it is about, or for a chain at what sets it off. */
  private standingOf({ thing, also }: { thing: string; also: string[] }): { at: Point; room: string } | null {
    const chain = this.editor.find(thing);
    const sources = chain?.collection === 'chains' ? (chain.thing as Chain).causes.map(({ of }) => of) : [];
    for (const id of [thing, ...also, ...sources]) {
      const found = this.editor.find(id)?.thing as { at?: Point; room?: string } | undefined;
      if (found?.at !== undefined && found.room !== undefined) return { at: found.at, room: found.room };
    }
    return null;
  }

  protected onPressed(pointer: BoardPointer): void {
    const found = this.findings().find(
      ({ key, finding }) => key === pointer.pin || finding.thing === pointer.thing || finding.also.includes(pointer.thing ?? ''),
    );
    this.chosen.set(found?.key ?? null);
    if (found !== undefined)
      setTimeout(() => document.getElementById(`finding-${found.number}`)?.scrollIntoView({ block: 'nearest' }));
  }
}

function keyOf(finding: Finding | WalkFinding): string {
  return `${finding.kind} ${finding.path} ${'walk' in finding ? (finding.walk ?? '') : ''}`;
}
