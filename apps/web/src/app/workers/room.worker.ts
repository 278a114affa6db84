/// <reference lib="webworker" />
import { expose, transfer } from 'comlink';
import { AftermathRoom } from './aftermath';
import { Checking } from './checking';
import { Keeping } from './keeping';
import { LiveRoom } from './live';
import { RehearsalRoom } from './rehearsal';
import type { RoomName } from './start';
import { StudyRoom } from './study';

class SentRehearsals extends RehearsalRoom {
  override rehearse(id: string): ReturnType<RehearsalRoom['rehearse']> {
    const sent = super.rehearse(id);
    return transfer(sent, [sent.columns.numbers.buffer]);
  }
}

// One script for all: most of it is the core, which is fetched, kept and compiled once.
const rooms: Record<RoomName, () => unknown> = {
  rehearsal: () => new SentRehearsals(),
  keeping: () => new Keeping(),
  checking: () => new Checking(),
  aftermath: () => new AftermathRoom(),
  live: () => new LiveRoom(),
  study: () => new StudyRoom(),
};

expose(rooms[self.name as RoomName]());
