import { Command, CommanderError } from 'commander';
import { checkFiles, rehearseFiles } from './rehearsing';
import { checkTarget, listOutputs, listRules, listSteps, listTargets } from './lists';
import { renderModule } from './modules';
import { dump, inventory, rebuild } from './reading';
import { compareFiles } from './comparing';
import { loadRecipe, loadTarget, printAsIs, Unusable, type Printed } from './files';
import { align } from './aligning';
import { loadSound } from './sounds';
import { inPool, MANY_FILES } from './pool';
import { explainFormat, learn, probe } from './learning';
import { readFormatted } from './to-midi';
import { mendFiles, type MendOptions } from './mending';
import { setCommand } from './sets/commands';
import { serveHere, watchAndMend } from './watching';
import { songsIn } from './folders';
import { proofFiles, worse, type ProofOptions, type Status } from './proofing';
import packageJson from '../../package.json';

/**
 * One call of the command line. @param args what stands behind its name
 * @returns 0: no stop remains · 1: one does · 2: the call or an input could not be used · 3: the device
 * refuses what no finding explains
 */
const READING = 'how a module is read: pitch=notes, rowsPerBeat=8, 3.beat=out';

export async function runCommandLine(args: readonly string[]): Promise<Status> {
  let status: Status = 0;
  const program = new Command('wary-quill')
    .version(packageJson.version)
    .description('Holds MIDI against strict targets, mends it and hands it over.')
    .exitOverride()
    .configureOutput({ writeErr: (text) => process.stderr.write(text) });

  const run =
    <A extends unknown[]>(action: (...args: A) => Status | Promise<Status>) =>
    async (...args: A) => {
      status = await action(...args);
    };

  program
    .command('inventory')
    .argument('<file...>', 'files, or - for standard input')
    .option('--reading <key=value...>', READING)
    .option('--json', 'one JSON object a file')
    .description('what is in each file')
    .action(run(inventory));
  program
    .command('dump')
    .argument('<file>', 'a file, or -')
    .description('every event, one a line')
    .action(run((file: string) => dump(file)));
  program
    .command('proof')
    .argument('[file...]', 'files, folders of them, or -')
    .option('--target <id-or-json>', 'a built-in target, or a target file')
    .option('--together', 'all files are one job')
    .option('--job <file>', 'a job that was saved as a file')
    .option('--sequence <n>', 'of several sequences or songs in a file, which, from 1')
    .option('--reading <key=value...>', READING)
    .option('--recipe <file>', 'seat and step as a recipe says')
    .option('--sound <file>', 'the recording that plays beside it')
    .option('--json', 'one JSON object a file')
    .description('hold files against a target')
    .action(
      run(async (named: string[], options: ProofOptions) => {
        const files = songsIn(named);
        const one = options.together || options.job !== undefined || options.target === undefined;
        if (one || files.length < MANY_FILES || files.includes('-'))
          return proofFiles(files, options);
        // A target or recipe that cannot be used is said once, not by every worker.
        loadTarget(options.target!);
        loadRecipe(options.recipe);
        await loadSound(options.sound);
        let status: Status = 0;
        await inPool<string, Printed>('proof', options, files, (one) => {
          printAsIs(one);
          status = worse(status, one.status);
        });
        return status;
      }),
    );
  program
    .command('mend')
    .argument('[file...]', 'files, folders of them, or -')
    .option('--target <id-or-json>', 'a built-in target, or a target file')
    .option('--job <file>', 'a saved job, with its sources, its plan and its sound')
    .option('--together', 'the files are sources of one job')
    .option('--sequence <n>', 'of several sequences or songs in a file, which, from 1')
    .option('--reading <key=value...>', READING)
    .option('--out <folder>', 'where the files go, a folder for each')
    .option('--recipe <file>', 'seat and step as a recipe says')
    .option('--sound <file>', 'the recording that plays beside it')
    .option('--lossless-only', 'only mends that lose nothing')
    .option('--may-drop <share>', 'also mends that drop notes, up to this share of all: 5%')
    .option('--choose <seat=part...>', 'who plays on a seat, by its id or name and the part’s name')
    .option('--accept', 'take the likeliest candidate of each choice')
    .option('--set <key=value...>', 'what the target asks to be told: maker="A. Fenn"')
    .option('--force', 'overwrite what is there')
    .option('--json', 'one JSON object a file')
    .description('seat, mend, hand over, read back')
    .action(run((files: string[], options: MendOptions) => mendFiles(songsIn(files), options)));
  program
    .command('set')
    .argument(
      '<what...>',
      'new FILE SONGS…, or FILE and proof, mend, newer FILES…, hand-over, status DIR',
    )
    .option('--target <id-or-json>', 'new: what the songs are for')
    .option('--recipe <file>', 'new: seat and step as a recipe says')
    .option('--title <text>', 'new: what the set is called')
    .option('--light', 'new: the order alone, without the jobs')
    .option('--accept', 'mend: take the likeliest of each choice, and the first mend of each stop')
    .option('--take <title...>', 'mend: a mend of the set, by the title that proof gives it')
    .option('--out <folder>', 'hand-over: the card or the folder that the files go into')
    .option('--card <name>', 'hand-over: what the card is called')
    .option('--receipt <folder>', 'hand-over: where the receipt of the set and of each song goes')
    .option('--remove-gone', 'hand-over: songs that are gone from the set go from the card')
    .option('--over-theirs', 'hand-over: write over what somebody changed on the card')
    .option('--force', 'overwrite a set that is there, or the card of another set')
    .option('--json', 'one JSON object')
    .description('songs that are handed over together: a set, or a folder of text')
    .action(run(setCommand));
  program
    .command('watch')
    .argument('<folder>', 'a folder of scores')
    .option('--target <id-or-json>', 'a built-in target, or a target file')
    .option('--recipe <file>', 'seat and step as a recipe says')
    .option('--out <folder>', 'mend into this folder; without it each is proofed')
    .option('--lossless-only', 'only mends that lose nothing')
    .option('--may-drop <share>', 'also mends that drop notes, up to this share of all: 5%')
    .option('--accept', 'take the likeliest candidate of each choice')
    .option('--json', 'one JSON object a save')
    .option('--once', 'end when all that is there was done')
    .description('at each save: proof, or mend into another folder')
    .action(run(watchAndMend));
  program
    .command('serve')
    .option('--port <n>', '4173, or any that is free')
    .option('--watch <folder>', 'what is saved there comes in as a newer export')
    .description('the desk in the browser, on this machine alone')
    .action(run(serveHere));
  program
    .command('compare')
    .argument('<a>', 'a file, or -')
    .argument('<b>', 'a file, or -')
    .option('--json', 'one JSON object')
    .description('two files held against each other as music')
    .action(run(compareFiles));
  program
    .command('align')
    .argument(
      '<score-and-sound...>',
      'a score and its recording (WAV, FLAC, MP3, Ogg, Opus), and so on',
    )
    .option('--sequence <n>', 'of several sequences or songs in a file, which, from 1')
    .option('--reading <key=value...>', READING)
    .option('--json', 'one JSON object a pair, with anchors and jumps')
    .option('--onsets', 'in JSON: where something begins in the recording')
    .option('--beats', 'in JSON: its beats')
    .description('where a recording lies beside a score')
    .action(run(align));
  program
    .command('render')
    .argument('<file>', 'a module, or -')
    .requiredOption('--out <file>', 'the WAV to write, or - for standard output')
    .option('--rate <hz>', '44100 or 48000', '48000')
    .option('--between <way>', 'between frames: cubic or linear', 'cubic')
    .option('--softened <share>', 'how much of hard left and right is taken back: 0 to 1', '0.3')
    .option('--sample <n>', 'one sample alone')
    .option('--sequence <n>', 'of a module of several songs, which, from 1')
    .option('--force', 'overwrite what is there')
    .description('a module as its own samples sound it')
    .action(run(renderModule));
  program
    .command('rebuild')
    .argument('<file>', 'a file, or -')
    .option('--out <file>', 'the file to write, or - for standard output')
    .option('--force', 'overwrite what is there')
    .description('read and write again')
    .action(run(rebuild));
  program
    .command('targets')
    .argument('[id]', 'print one as data')
    .option('--json', 'as JSON')
    .description('the built-in targets')
    .action(run(listTargets));
  program
    .command('rules')
    .option('--json', 'as JSON')
    .description('all rules')
    .action(run(listRules));
  program
    .command('steps')
    .option('--json', 'as JSON')
    .description('all steps')
    .action(run(listSteps));
  program
    .command('outputs')
    .argument('[id]', 'a writer or a format, to be told of in full')
    .option('--json', 'as JSON; of one format its JSON Schema')
    .description('what can be written')
    .action(run(listOutputs));
  program
    .command('rehearse')
    .argument('[delivery...]', 'folders, packs (.zip), or the files of one delivery')
    .option('--target <id-or-json>', 'a built-in target, or a target file')
    .option('--job <file>', 'a job in their place: what it would hand over now')
    .option('--json', 'one JSON object a delivery')
    .option('--from <clock>', 'only from here: 12.5 or 1:02.5')
    .option('--to <clock>', 'only up to here')
    .option('--seat <seat...>', 'only these seats, by id or name')
    .option('--watch', 'again whenever a file changes, until interrupted')
    .description('what the device would do with delivered files')
    .action(run(rehearseFiles));
  program
    .command('check')
    .argument('<file...>', 'files, or -')
    .requiredOption('--format <id>', 'one of our formats: chart, captions, crate …')
    .option('--json', 'one JSON object a file')
    .description('are they files of a format')
    .action(run(checkFiles));
  program
    .command('check-target')
    .argument('<file>', 'a target file, or a .quilltarget with its examples')
    .description('is it a valid target, and as its examples say')
    .action(run(checkTarget));

  program
    .command('learn')
    .argument('<taken...>', 'MIDI files that the far side took')
    .option('--refused <file...>', 'files that it refused')
    .option('--wrong <file...>', 'files that it took and played wrongly')
    .option('--heard <text>', 'what was wrong about them, in your words')
    .option('--name <name>', 'what the target is called')
    .option('--take <n>', 'take up the first proposals, so many')
    .option('--out <file>', 'the target file to write')
    .option('--force', 'overwrite what is there')
    .option('--json', 'one JSON object')
    .description('what would accept these, and why others were refused')
    .action(run(learn));
  program
    .command('probe')
    .option('--answers <yes,no…>', 'what became of the probes so far')
    .option('--from <file>', 'a file that was taken: the first probe is like it')
    .option('--out <file>', 'the next probe, as a MIDI file')
    .option('--force', 'overwrite what is there')
    .option('--json', 'one JSON object')
    .description('small files to try, until the limits of a device are known')
    .action(run(probe));
  program
    .command('format')
    .argument('<file>', 'a file that the far side takes')
    .requiredOption('--score <file>', 'the MIDI file that it was made from')
    .option('--target <id-or-json>', 'whose seats it names')
    .option('--out <file>', 'the description to write')
    .option('--force', 'overwrite what is there')
    .option('--json', 'one JSON object')
    .description('a file format, described by an example')
    .action(run(explainFormat));
  program
    .command('read')
    .argument('<file...>', 'files of a format, or folders of them')
    .requiredOption(
      '--format <id-or-file>',
      'one of ours, a description, or a target that holds one',
    )
    .option('--out <folder>', 'write each as a MIDI file')
    .option('--force', 'overwrite what is there')
    .description('the rows of one as JSON, or many as MIDI')
    .action(run(readFormatted));

  try {
    await program.parseAsync(args, { from: 'user' });
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (!(error instanceof Unusable)) throw error;
    process.stderr.write(`${error.message}\n`);
    return 2;
  }
  return status;
}
