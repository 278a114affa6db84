/// <reference lib="webworker" />
import { expose } from 'comlink';
import { AftermathRoom } from './aftermath';

expose(new AftermathRoom());
