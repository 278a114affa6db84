/// <reference lib="webworker" />
import { expose, transfer } from 'comlink';
import { EditImpactWorker } from './aftermath';
import { Checking } from './checking';
import { SaveWorker } from './keeping';
import { LiveWalkWorker } from './live';
import { ProvingWorker } from './proving';
import { RehearsalWorker } from './rehearsal';
import type { WorkerName } from './start';
import { AnalysisWorker } from './study';
import { WiringTextWorker } from './wiring';

class SentRehearsals extends RehearsalWorker {
  override rehearse(id: string): ReturnType<RehearsalWorker['rehearse']> {
    const sent = super.rehearse(id);
    return transfer(sent, [sent.columns.numbers.buffer]);
  }
}

// One script for all: most of it is the core, which is fetched, kept and compiled once.
const rooms: Record<WorkerName, () => unknown> = {
  rehearsal: () => new SentRehearsals(),
  keeping: () => new SaveWorker(),
  checking: () => new Checking(),
  proving: () => new ProvingWorker(),
  aftermath: () => new EditImpactWorker(),
  live: () => new LiveWalkWorker(),
  study: () => new AnalysisWorker(),
  wiring: () => new WiringTextWorker(),
};

expose(rooms[self.name as WorkerName]());
