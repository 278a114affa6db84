import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { Chain, Finding, Point } from '@nettlewick/core';
import { Board } from '../board/board';
import type { BoardPointer } from '../board/board';
import type { Pin } from '../board/pins';
import { Editor } from '../state/editor';
import { Views } from '../editing/places';
import { Rooms } from '../state/rooms';
import { FindingsStore } from '../state/findings-store';

const groups: { weight: Finding['weight']; title: string; says: string }[] = [
  {
    weight: 'fault',
    title: 'Errors',
    says: 'A reference is missing or has the wrong type. The chain does nothing.',
  },
  { weight: 'warning', title: 'Warnings', says: 'Valid, but probably not what you intended.' },
  { weight: 'remark', title: 'Notes', says: 'Often intentional. Worth a look.' },
];

/** So many findings of a weight are listed, and stuck into the plan. */
const LISTED = 200;

/** The fourth place: what is wrong before anybody walks, by weight, each marked on the plan and with its mend. */
@Component({
  selector: 'nw-check-place',
  imports: [Board],
  templateUrl: './check-place.html',
  styleUrl: './check-place.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CheckPlace {
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  private readonly places = inject(Views);
  protected readonly looked = inject(FindingsStore);
  protected readonly listed = LISTED;
  protected readonly chosen = signal<string | null>(null);
  protected readonly findings = computed(() =>
    (this.looked.found() ?? []).map((finding, at) => ({ ...finding, number: at + 1, key: `${finding.kind} ${finding.path}` })),
  );
  protected readonly grouped = computed(() =>
    groups
      .map((group) => ({ ...group, findings: this.findings().filter(({ weight }) => weight === group.weight) }))
      .filter(({ findings }) => findings.length > 0),
  );
  /** Each finding where its thing stands, or where what it is about stands. */
  protected readonly pins = computed<Pin[]>(() =>
    // As many as are listed: more would be a thicket.
    this.grouped()
      .flatMap(({ findings }) => findings.slice(0, LISTED))
      .flatMap((finding) => {
        const standing = this.standingOf(finding);
        if (standing === null || standing.room !== this.rooms.current()) return [];
        return [{ id: finding.key, at: standing.at, text: String(finding.number), label: finding.reason, held: true as const }];
      }),
  );
  protected readonly marked = computed(() => {
    const found = this.findings().find(({ key }) => key === this.chosen());
    return found === undefined ? [] : [found.thing, ...found.also].filter((id) => 'at' in (this.editor.find(id)?.thing ?? {}));
  });

  protected choose(finding: { key: string; thing: string; also: string[] }): void {
    this.chosen.set(finding.key);
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

  protected mend(finding: Finding): void {
    if (finding.edit !== null) this.editor.edit(finding.edit);
  }

  protected onPressed(pointer: BoardPointer): void {
    const found = this.findings().find(
      ({ key, thing, also }) => key === pointer.pin || thing === pointer.thing || also.includes(pointer.thing ?? ''),
    );
    this.chosen.set(found?.key ?? null);
    if (found !== undefined)
      setTimeout(() => document.getElementById(`finding-${found.number}`)?.scrollIntoView({ block: 'nearest' }));
  }

  protected go(finding: Finding): void {
    this.places.show(finding.thing);
  }
}
