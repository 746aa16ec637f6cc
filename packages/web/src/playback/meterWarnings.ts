/** What goes wrong while it plays, in words. */
import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, stageTitle, type ChainDocument } from '@hexenkessel/core/chain';
import { BOARD, HELD, OVERDUE } from '@hexenkessel/core/live';
import type { RowKey } from '../cascade/renderReport.ts';
import { boardPlaces } from './liveRows.ts';

/** The gravest of what the board tells; empty where nothing is wrong. */
export function warningText(board: Float64Array, document: ChainDocument, row: RowKey): string {
  if (board[BOARD.faultStage] !== 0 || board[BOARD.modulatorFaults] !== 0)
    return faultText(document, row, board[BOARD.faultStage]);
  if (board[BOARD.passingStage] !== 0)
    return passingText(document, row, board[BOARD.passingStage], board[BOARD.passingLine]);
  return board[BOARD.over] !== 0 ? overText(document, row, board[BOARD.overStage]) : failureText(board[BOARD.failures]);
}

/** Which row was first to pass full scale. */
function overText(document: ChainDocument, row: RowKey, place: number): string {
  const first = titleAt(document, row, place);
  return first !== undefined
    ? `Over 0 dBFS: “${first}” is the first stage above full scale.`
    : 'Over 0 dBFS: what goes into the live stages is that loud already.';
}

/** Which stage is silent over a fault in itself, or that a modulator stands still. */
function faultText(document: ChainDocument, row: RowKey, place: number): string {
  if (place === 0)
    return 'A modulator stopped over a fault in itself and stands still; stop and play to start it again.';
  const title = titleAt(document, row, place) ?? 'A stage';
  return `“${title}” stopped over a fault in itself and is silent; stop and play to start it again.`;
}

/** Which script has given up, and why. */
function passingText(document: ChainDocument, row: RowKey, place: number, line: number): string {
  const title = titleAt(document, row, place) ?? 'A stage';
  if (line === OVERDUE)
    return `“${title}” takes more than 60 % of the time there is and is muted; stop and play to start it again.`;
  if (line === HELD) return `“${title}” goes beyond ±64 (36 dB above full scale) and is held there.`;
  const why = line > 0 ? `works too long (line ${line} of its text)` : 'came to a value that is no number';
  return `“${title}” ${why} and passes the sound on as it is; stop and play to start it again.`;
}

/** Title of the stage at a place on the board, counted from 1. */
function titleAt(document: ChainDocument, row: RowKey, place: number): string | undefined {
  const id = [...boardPlaces(document, row)].find(([, at]) => at === place - 1)?.[0];
  const found = allStages(document.stages).find(({ stage }) => stage.id === id);
  return found && stageTitle(BUILT_INS.for(document), found.stage);
}

function failureText(failures: number): string {
  return failures === 0 ? '' : `A stage produced invalid samples (NaN or infinity) and was reset (${failures}×).`;
}
