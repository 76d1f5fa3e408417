DROP TABLE job_versions;
