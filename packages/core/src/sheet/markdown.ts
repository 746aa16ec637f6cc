import { showLevel } from '../timing/display.ts';
import type { Sheet, SheetStage } from './model.ts';
import { quietNotes } from './notes.ts';

/**
 * The sheet as Markdown. `picture`: the name of the file beside it that shows the Cascade, see `cascadeSvg`; without one
 * there is no picture.
 */
export function sheetMarkdown(sheet: Sheet, picture?: string): string {
  const lines = [`# ${sheet.title}`, '', sheet.summary, ''];
  for (const [label, value] of sheet.facts) lines.push(`- **${label}**: ${value}`);
  if (sheet.facts.length > 0) lines.push('');
  if (sheet.rows.length > 0) {
    lines.push('## Cascade', '');
    if (picture !== undefined) lines.push(`![The sound after each stage](${linkTo(picture)})`, '');
    lines.push(
      '| row | peak |',
      '|---|---|',
      ...sheet.rows.map((row) => `| ${cell(row.title)} | ${showLevel(row.peak)}FS |`),
      '',
    );
  }
  if (sheet.controls.length > 0) {
    lines.push('## Panel', '', '| control | value | range | targets | what it does |', '|---|---|---|---|---|');
    for (const { name, group, value, range, drives, note } of sheet.controls)
      lines.push(
        `| ${[group ? `${group}: ${name}` : name, value, range, drives.join('; '), note].map(cell).join(' | ')} |`,
      );
    lines.push('');
  }
  lines.push('## Stages', '');
  for (const stage of sheet.stages) lines.push(...stageLines(stage), '');
  if (sheet.modulators.length > 0) {
    lines.push('## Modulation', '');
    for (const { title, summary, on, note, settings, moves } of sheet.modulators) {
      lines.push(`### ${title}${on ? '' : ' – off'}`, '', summary, '');
      if (note) lines.push(`> ${note.replace(/\n/g, '\n> ')}`, '');
      lines.push(`Settings: ${settings.join(', ')}.`, '', ...moves.map((move) => `- ${move}`), '');
    }
  }
  if (sheet.lanes.length > 0) lines.push('## Automation', '', ...sheet.lanes.map((lane) => `- ${lane}`), '');
  lines.push('## Tempo', '', sheet.tempo, '', '## Render', '', sheet.render, '');
  if (sheet.notes.trim() !== '') lines.push('## Notes', '', quietNotes(sheet.notes).trim(), '');
  return `${lines
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim()}\n`;
}

function stageLines(stage: SheetStage): string[] {
  const original = stage.original ? ` (${stage.original})` : '';
  const lines = [
    `### ${stage.number}. ${stage.title}${original}${stage.branch && `, in ${stage.branch}`}${stage.on ? '' : ' – bypassed'}`,
    '',
    `*${stage.family}* – ${stage.summary}`,
  ];
  if (stage.note) lines.push('', `> ${stage.note.replace(/\n/g, '\n> ')}`);
  if (stage.settings.length > 0) {
    lines.push('', '| parameter | value | equals | what is heard |', '|---|---|---|---|');
    for (const { label, value, also, doc } of stage.settings)
      lines.push(`| ${[label, value, also, doc].map(cell).join(' | ')} |`);
  }
  return lines;
}

function cell(text: string): string {
  return text.replace(/\|/g, '\\|').replace(/\n/g, ' ');
}

/** A file beside this one as a link's destination (CommonMark 0.31, 6.3). */
function linkTo(file: string): string {
  return encodeURIComponent(file).replace(/[()]/g, (bracket) => (bracket === '(' ? '%28' : '%29'));
}
