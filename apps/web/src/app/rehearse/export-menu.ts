import { CdkMenu, CdkMenuItem, CdkMenuTrigger } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { ledgerCsv, ledgerText, statesVcd } from '@nettlewick/core';
import { downloadDrawing } from '../board/drawing-file';
import { planSvg } from '../board/plan-svg';
import type { PlanPage } from '../board/plan-svg';
import type { Pin } from '../board/pins';
import { LevelsApi } from '../saving/levels-api';
import { failureText } from '../workers/api-client';
import { LevelStore } from '../state/level-store';
import { download, fileNameOf } from '../controls/download';
import { Editor } from '../state/editor';
import { Rooms } from '../state/rooms';
import type { LanesView } from './lanes-view';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { reportHtml } from './report-html';
import type { Point } from '@nettlewick/core';

/** What can be handed on of the rehearsal that is shown: as files, as a page to print, or as a link. */
@Component({
  selector: 'nw-export-menu',
  imports: [CdkMenu, CdkMenuItem, CdkMenuTrigger],
  template: `
    <button type="button" class="button" [cdkMenuTriggerFor]="forms">Export…</button>
    <ng-template #forms>
      <div class="menu" cdkMenu>
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="report()">Printable report (HTML)</button>
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="csv()">Ledger (CSV)</button>
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="lines()">Ledger (JSON lines)</button>
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="vcd()">State waveform (VCD)</button>
        @if ((rehearser.result()?.expectations?.length ?? 0) > 0) {
          <button type="button" cdkMenuItem (cdkMenuItemTriggered)="expectations()">Expectations (JUnit XML)</button>
        }
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="plan('svg')">Plan (SVG)</button>
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="plan('png')">Plan (PNG)</button>
        @if (lanes()) {
          <button type="button" cdkMenuItem (cdkMenuItemTriggered)="drawnLanes('svg')">Lanes (SVG)</button>
          <button type="button" cdkMenuItem (cdkMenuItemTriggered)="drawnLanes('png')">Lanes (PNG)</button>
        }
        <button type="button" cdkMenuItem (cdkMenuItemTriggered)="keep()">Copy permanent link</button>
      </div>
    </ng-template>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ExportMenu {
  readonly ways = input<readonly Point[][]>([]);
  readonly pins = input<readonly Pin[]>([]);
  /** The lanes, while they are shown. */
  readonly lanes = input<LanesView | undefined>();
  private readonly editor = inject(Editor);
  private readonly rooms = inject(Rooms);
  protected readonly rehearser = inject(RehearsalStore);
  private readonly playback = inject(Playback);
  private readonly api = inject(LevelsApi);
  private readonly levelId = inject(LevelStore).levelId;
  private readonly revision = inject(LevelStore).revision;
  private readonly sent = inject(LevelStore).sent;

  protected csv(): void {
    const ledger = this.rehearser.result()?.ledger;
    if (ledger !== undefined)
      download(
        `${this.named()}.csv`,
        ledgerCsv(ledger, (id) => this.editor.nameOf(id).trim()),
        'text/csv',
      );
  }

  protected lines(): void {
    const ledger = this.rehearser.result()?.ledger;
    if (ledger !== undefined) download(`${this.named()}.jsonl`, ledgerText(ledger), 'application/x-ndjson');
  }

  protected vcd(): void {
    const shown = this.rehearser.result();
    if (shown !== null) download(`${this.named()}.vcd`, statesVcd(this.editor.level(), shown), 'text/plain');
  }

  protected async expectations(): Promise<void> {
    const [level, walk, rehearsal] = [this.editor.level(), this.rehearser.walk(), this.rehearser.result()];
    if (walk === null || rehearsal === null) return;
    const { junitXml } = await import('@nettlewick/core/junit');
    download(`${this.named()}.xml`, junitXml(level, [{ walk, rehearsal }]), 'application/xml');
  }

  protected async plan(how: 'svg' | 'png'): Promise<void> {
    await downloadDrawing(this.named(), planSvg(this.sheet()), how);
  }

  protected async drawnLanes(how: 'svg' | 'png'): Promise<void> {
    const svg = this.lanes()?.svg() ?? null;
    if (svg !== null) await downloadDrawing(`${this.named()}.lanes`, svg, how);
  }

  protected report(): void {
    const rehearsal = this.rehearser.result();
    const walk = this.rehearser.walk();
    if (rehearsal === null || walk === null) return;
    const level = this.editor.level();
    const visited = new Set([...rehearsal.tracks.rooms.values()].flatMap((stays) => stays.map(({ room }) => room)));
    const sheets = level.rooms
      .filter(({ id }) => visited.has(id))
      .map(({ id }): PlanPage => ({ level, room: id, moment: null, ways: this.playback.waysIn(id), pins: [] }));
    download(`${this.named()}.html`, reportHtml({ level, walk, rehearsal, sheets, revision: this.revision() }), 'text/html');
  }

  /** Keeps the revision for good, and puts a link into the clipboard that opens this walk of it again. */
  protected async keep(): Promise<void> {
    const [levelId, revision, walk] = [this.levelId(), this.revision(), this.rehearser.walk()];
    if (levelId === null || revision === null || walk === null) return;
    if (this.sent() !== this.editor.level()) {
      this.editor.say('Could not create the link: the level has unsaved edits. Press Ctrl+S and try again.');
      return;
    }
    const answer = await this.api.keepRevision(levelId, revision, { kept: true });
    if (!answer.ok) {
      this.editor.say(`Could not create the link: ${failureText(answer)}`);
      return;
    }
    const link = new URL(`/levels/${levelId}/rehearse`, location.href);
    link.searchParams.set('walk', walk.id);
    link.searchParams.set('revision', String(revision));
    try {
      await navigator.clipboard.writeText(link.href);
      this.editor.say(`Copied link to revision ${revision}: ${link.href}`);
    } catch {
      this.editor.say(`Kept with revision ${revision}. The link: ${link.href}`);
    }
  }

  private sheet(): PlanPage {
    const room = this.rooms.current();
    return { level: this.editor.level(), room, moment: this.playback.moment(), ways: this.ways(), pins: this.pins() };
  }

  /** What its files are called, without an ending. */
  private named(): string {
    return fileNameOf(`${this.editor.level().name} ${this.rehearser.walk()?.name ?? ''}`);
  }
}
