import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { addCrowd, type Crowd } from "../api/people";
import { useClasses, useRooms } from "../api/queries";
import { Dialog } from "../shared/Dialog";
import { HowMany } from "../shared/HowMany";
import { Refused } from "../shared/Refused";
import { counted } from "../shared/format";

const MOST_IN_CLASS = 60;

/** Who comes by number and level; names, ages and what to be careful about are given later, person by person. */
export function CrowdDialog({ onClose }: { onClose: () => void }) {
  const [told, tell] = useState<Crowd>({ beginner: 0, standard: 0, advanced: 0 });
  const queries = useQueryClient();
  const navigate = useNavigate();
  const rooms = useRooms();
  const classes = useClasses();
  const make = useMutation({
    mutationFn: () => addCrowd(told),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["people"] });
      if (rooms.data?.length && classes.data?.length === 0) void navigate("/generate");
      else onClose();
    },
  });
  const many = told.beginner + told.standard + told.advanced;
  return (
    <Dialog title="Who comes" onClose={onClose}>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (many) make.mutate();
        }}
      >
        <HowMany
          name="Beginners"
          count={told.beginner}
          most={MOST_IN_CLASS - told.standard - told.advanced}
          onChange={(beginner) => tell({ ...told, beginner })}
        />
        <HowMany
          name="Standard"
          count={told.standard}
          most={MOST_IN_CLASS - told.beginner - told.advanced}
          onChange={(standard) => tell({ ...told, standard })}
        />
        <HowMany
          name="Advanced"
          count={told.advanced}
          most={MOST_IN_CLASS - told.beginner - told.standard}
          onChange={(advanced) => tell({ ...told, advanced })}
        />
        <Refused error={make.error} />
        <button type="submit" className="btn btn-primary" disabled={!many || make.isPending}>
          {make.isPending ? "Adding them …" : `Add ${counted(many, "person", "people")}`}
        </button>
        <p className="faint text-xs">
          40 years and 72 kg are taken until you know better. Ask everybody the usual questions before training, and
          write down what to be careful about: forecasts and safer choices follow what is known.
        </p>
      </form>
    </Dialog>
  );
}
