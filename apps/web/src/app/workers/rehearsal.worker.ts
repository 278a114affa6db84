/// <reference lib="webworker" />
import { expose, transfer } from 'comlink';
import { RehearsalRoom } from './rehearsal';

class Room extends RehearsalRoom {
  override rehearse(id: string): ReturnType<RehearsalRoom['rehearse']> {
    const sent = super.rehearse(id);
    return transfer(sent, [sent.columns.numbers.buffer]);
  }
}

expose(new Room());
