import { useMutation } from "@tanstack/react-query";
import { FileDown } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";

import { useCourse } from "../api/courses";
import { drawWeek, type PaperKind } from "../api/papers";
import { PaperDesk, PAPERS, usePaperSize } from "../paper/PaperDesk";
import { CannotOpen } from "../shared/CannotOpen";
import { keepFile } from "../shared/files";
import { Opening } from "../shared/Opening";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";

/** The programme of a course to hang up, and the papers of a whole week at once. */
export function ProgrammePage() {
  const id = Number(useParams().id);
  const loaded = useCourse(id);
  const name = loaded.data?.course.name;
  useEffect(() => {
    if (name) document.title = `${name}, on paper`;
  }, [name]);
  if (loaded.isPending) return <Opening what="the programme" />;
  if (loaded.isError) {
    return (
      <CannotOpen
        what="This course"
        error={loaded.error}
        again={() => void loaded.refetch()}
        home="/courses"
        homeName="All courses"
      />
    );
  }
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 print:max-w-none print:p-0" data-testid="papers">
      <div className="mb-3 flex flex-wrap items-baseline gap-3 print:hidden">
        <h1 className="grow text-2xl font-semibold">{loaded.data.course.name}, on paper</h1>
        <Link to={`/courses/${id}`} className="underline underline-offset-2">
          Back to the course
        </Link>
      </div>
      <WeekOnPaper id={id} weeks={loaded.data.course.weeks} />
      <PaperDesk printed={{ of: "course", course_id: id }} name={loaded.data.course.name} kinds={[]} />
    </div>
  );
}

function WeekOnPaper({ id, weeks }: { id: number; weeks: number }) {
  const [week, setWeek] = useState("1");
  const [kind, setKind] = useState<PaperKind>("people");
  const [size] = usePaperSize();
  const draw = useMutation({
    mutationFn: () => drawWeek(id, Number(week), kind, size),
    onSuccess: (content) => keepFile(content, `week ${week}, ${kind}.zip`),
  });
  return (
    <div className="mb-4 flex flex-wrap items-center gap-3 print:hidden">
      <Pick
        label="Week"
        value={week}
        options={Array.from({ length: weeks }, (_, at): [string, string] => [String(at + 1), String(at + 1)])}
        onChange={setWeek}
      />
      <Pick
        label="of all its classes"
        value={kind}
        options={PAPERS}
        onChange={(item) => setKind(PAPERS.find(([known]) => known === item)?.[0] ?? "people")}
      />
      <button type="button" className="btn btn-sm" disabled={draw.isPending} onClick={() => draw.mutate()}>
        <FileDown size={15} aria-hidden /> {draw.isPending ? "Drawing …" : "PDFs in one zip"}
      </button>
      <Refused error={draw.error} />
    </div>
  );
}
