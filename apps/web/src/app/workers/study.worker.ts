/// <reference lib="webworker" />
import { expose } from 'comlink';
import { StudyRoom } from './study';

expose(new StudyRoom());
