/// <reference lib="webworker" />
import { expose } from 'comlink';
import { LiveRoom } from './live';

expose(new LiveRoom());
