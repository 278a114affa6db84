/// <reference lib="webworker" />
import { expose } from 'comlink';
import { Keeping } from './keeping';

expose(new Keeping());
