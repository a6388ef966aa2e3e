-- expands: the chores of the hull are a task of the season.
ALTER TYPE "public"."task_kind" ADD VALUE 'hull';